import { rmSync } from 'node:fs'

import { template } from './world'

/** Before all tests: the demo world is loaded once. After them: its folder goes. */
export default async function setup() {
  const at = await template()
  process.env.WARYOWL_E2E_TEMPLATE = at
  return () => rmSync(at, { recursive: true, force: true })
}
