import { expect, test } from '@playwright/test'

import { ChangeKey, fate, Line, sendable, settled } from '../web/src/shared/change'

// The logic of changes and of the queue, without a browser.

test('a key is kept until it is known what became of its change', () => {
  let made = 0
  const key = new ChangeKey(() => ({
    'Idempotency-Key': `k${++made}`,
    'Happened-At': 'now',
  }))
  for (const [status, after] of [
    [0, 'k1'], // no answer
    [503, 'k1'], // busy
    [424, 'k1'], // the service behind it has not spoken
    [422, 'k2'], // refused: the next change is another one
    [409, 'k3'],
    [200, 'k4'],
  ] as const) {
    key.told(status)
    expect(key.now['Idempotency-Key'], `after ${status}`).toBe(after)
  }
  expect([0, 200, 201, 400, 409, 424, 500, 503].filter(settled)).toEqual([200, 201, 400, 409])
})

test('changes of one row follow each other, and one that fails does not stop the next', async () => {
  const line = new Line()
  const told: string[] = []
  const later = (name: string, ms: number, fails = false) =>
    line.next(async () => {
      await new Promise((done) => setTimeout(done, ms))
      told.push(name)
      if (fails) throw new Error(name)
      return name
    })
  const all = await Promise.allSettled([later('first', 30), later('second', 1, true), later('third', 1)])
  expect(told).toEqual(['first', 'second', 'third'])
  expect(all.map((r) => r.status)).toEqual(['fulfilled', 'rejected', 'fulfilled'])
})

test('a refused entry holds back only later ones of its row', () => {
  const e = (row: string, problem?: unknown) => ({ row, problem })
  expect(sendable([])).toBeUndefined()
  expect(sendable([e('a'), e('b')])).toEqual(e('a'))
  expect(sendable([e('a', 'refused'), e('a'), e('b')])).toEqual(e('b'))
  expect(sendable([e('a', 'refused'), e('a')])).toBeUndefined()
})

test('what becomes of a queued entry', () => {
  expect([0, 200, 201, 401, 403, 409, 422, 500, 503].map(fate)).toEqual([
    'wait',
    'taken',
    'taken',
    'sign in',
    'refused',
    'refused',
    'refused',
    'wait',
    'wait',
  ])
})
