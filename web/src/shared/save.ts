import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { ApiError, once, type Problem } from '../api/client'

/**
 * Carries out a change: busy while it runs, problem when it is refused (what was typed stays), everything on the page read
 * again when it is done. On a conflict `mine` sends the same change again on top of the other person's version.
 */
export function useSave() {
  const client = useQueryClient()
  const busy = ref(false)
  const problem = ref<Problem>()
  const mine = ref<() => Promise<unknown>>()
  let header = once()
  async function save<T>(
    change: (version: number | undefined, header: ReturnType<typeof once>) => Promise<T>,
  ): Promise<T | undefined> {
    if (busy.value) return
    busy.value = true
    problem.value = mine.value = undefined
    try {
      const answer = await change(undefined, header)
      header = once()
      await client.invalidateQueries()
      return answer
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      problem.value = error.problem
      // Without an answer the change may have been made: the same key makes sending it again safe.
      if (error.problem.status !== 0) header = once()
      const current = error.problem.current as { version?: number } | undefined
      if (current?.version) {
        const version = current.version
        mine.value = () => save((_, h) => change(version, h))
      }
    } finally {
      busy.value = false
    }
  }
  async function theirs() {
    problem.value = mine.value = undefined
    await client.invalidateQueries()
  }
  return { busy, problem, mine, theirs, save }
}

/** useSave for a form in a dialog: `close` is called once the change is made, or theirs is kept. */
export function useForm(close: () => void) {
  const { busy, problem, mine: again, theirs: keep, save } = useSave()
  async function send<T>(change: Parameters<typeof save<T>>[0]) {
    if ((await save(change)) !== undefined) close()
  }
  async function mine() {
    if ((await again.value?.()) !== undefined) close()
  }
  async function theirs() {
    await keep()
    close()
  }
  return { busy, problem, mine, theirs, send }
}

/** Whether one field was refused, with what is allowed there. */
export function fieldError(problem: Problem | undefined, field: string): string | undefined {
  return problem?.errors?.find((e) => e.location === `body.${field}` || e.location.startsWith(`body.${field}[`))?.message
}
