import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'

/** The keys of the bench; each can be put elsewhere. Tiles keep their numbers. */
export const benchKeys = {
  flip: ['f', 'the other phone'],
  undo: ['u', 'take my last entry on this phone back'],
  line: ['b', 'the bench line'],
  step: ['n', 'a new step'],
  watch: ['t', 'stopwatch'],
  silence: ['0', 'silence the loudest clock and say its result'],
  still: ['c', 'still from the camera'],
  sync: ['y', 'sync mark for the film'],
  view: ['v', 'bench view: read it from a metre away'],
} as const
export type BenchKey = keyof typeof benchKeys
const chosen = useLocalStorage<Partial<Record<BenchKey, string>>>('waryowl-keys', {})
export const keyOf = (k: BenchKey) => chosen.value[k] ?? benchKeys[k][0]
/** Puts a key elsewhere; false when another act has it. */
export function remap(k: BenchKey, key: string): boolean {
  const taken = (Object.keys(benchKeys) as BenchKey[]).some((o) => o !== k && keyOf(o) === key)
  if (taken || key.length !== 1 || /[1-8g/?; ]/.test(key)) return false
  chosen.value = { ...chosen.value, [k]: key }
  return true
}

/** Whether a key press belongs to a field or an open dialog rather than to the room. */
export function typing(e: KeyboardEvent): boolean {
  const t = e.target as HTMLElement | null
  if (document.querySelector('.el-overlay:not([style*="display: none"]) .el-dialog')) return true
  return Boolean(
    t &&
    (t.isContentEditable ||
      (/^(INPUT|TEXTAREA|SELECT)$/.test(t.tagName) &&
        !['range', 'checkbox', 'radio'].includes((t as HTMLInputElement).type) &&
        !(t as HTMLInputElement).readOnly)),
  )
}

/** Whether the menu of rooms is open: the next key names a room. */
export const roomsOpen = ref(false)
export const jumping = () => roomsOpen.value

/** Whether a key was pressed with nothing in hand: Enter then is the first act of the room, not a press of a control. */
export const onNothing = (e: KeyboardEvent) =>
  !(e.target instanceof Element) ||
  !e.target.closest('a, button, input, select, textarea, summary, [role], [tabindex="0"]')
/** Enter as “yes, or the first act”. */
export const first = (e: KeyboardEvent) => e.key === 'Enter' && onNothing(e)
