import { shallowRef } from 'vue'

import type { Schemas } from '../api/client'

/** The merge that was just made, wherever: it is offered for ten seconds to take it back. */
export const lastMerge = shallowRef<Schemas['Merge']>()
