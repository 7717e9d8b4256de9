import { Validator } from '@seriousme/openapi-schema-validator'
import { readFileSync } from 'node:fs'

import { expect, test } from './bench'

// An outside validator (npm, MIT) with the schema of the OpenAPI Initiative for version 3.1.
test('the description of the interface is a valid OpenAPI document', async () => {
  const document = JSON.parse(readFileSync('../schemas/openapi.json', 'utf8')) as Record<string, unknown>
  const validator = new Validator()
  const found = await validator.validate(document)
  expect(found.errors ?? []).toEqual([])
  expect(validator.version).toBe('3.1')
  // It finds what is wrong: an operation without answers.
  const paths = document.paths as Record<string, Record<string, Record<string, unknown>>>
  paths['/api/models']!.get = { responses: 'none' }
  expect((await new Validator().validate(document)).valid).toBe(false)
})
