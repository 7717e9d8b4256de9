import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { ApiError, once, type Problem } from '../api/client'
import { ChangeKey, Line, type Header } from './change'

export type Change<T> = (version: number | undefined, header: Header) => Promise<T>

/**
 * The one way to write: busy while a change runs, problem when it is refused (what was typed stays), everything on the
 * page read again when it is done. The key stays the same until it is known what became of the change. On a conflict
 * `mine` sends it again on top of the other person's version and `theirs` drops it. `done` is called once a change is
 * made, or theirs is kept.
 */
export function useChange(done: () => void = () => {}) {
  const client = useQueryClient()
  const busy = ref(false)
  const problem = ref<Problem>()
  const mine = ref<() => Promise<unknown>>()
  const key = new ChangeKey(once)
  const line = new Line()

  async function run<T>(change: Change<T>, version?: number): Promise<T | undefined> {
    problem.value = mine.value = undefined
    busy.value = true
    try {
      const answer = await change(version, key.now)
      key.told(200)
      await client.invalidateQueries()
      return answer
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      problem.value = error.problem
      key.told(error.problem.status)
      const current = error.problem.current as { version?: number } | undefined
      if (current?.version) {
        const seen = current.version
        mine.value = async () => {
          if ((await run(change, seen)) !== undefined) done()
        }
      }
    } finally {
      busy.value = false
    }
  }
  /** Carries out one change; a second press while it runs is no second change. */
  async function save<T>(change: Change<T>): Promise<T | undefined> {
    if (busy.value) return
    return run(change)
  }
  /** Carries out a change after those that were asked for before it: ticks that come faster than the answers. */
  const queue = <T>(change: Change<T>) => line.next(() => run(change))
  const asked = new Set<string>()
  /** Like queue; what is asked for twice before it is done is carried out once. For buttons of which another may be pressed soon. */
  async function each<T>(what: string, change: Change<T>): Promise<T | undefined> {
    if (asked.has(what)) return
    asked.add(what)
    try {
      return await queue(change)
    } finally {
      asked.delete(what)
    }
  }
  /** Like save, and tells `done`. */
  async function send<T>(change: Change<T>) {
    if ((await save(change)) !== undefined) done()
  }
  async function theirs() {
    problem.value = mine.value = undefined
    await client.invalidateQueries()
    done()
  }
  return { busy, problem, mine, theirs, save, send, queue, each }
}

/** Whether one field was refused, with what is allowed there. */
export function fieldError(problem: Problem | undefined, field: string): string | undefined {
  return problem?.errors?.find((e) => e.location === `body.${field}` || e.location.startsWith(`body.${field}[`))
    ?.message
}
