import createClient from 'openapi-fetch'
import { v7 } from 'uuid'

import { useSaved } from '../shared/saved'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Problem = Schemas['Problem']

/** An answer that is not a success, as problem details; status 0 means that the server was not reached. */
export class ApiError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

const unreachable: Problem = {
  title: 'No connection',
  status: 0,
  detail: 'The server does not answer. What you entered is still here; send it again when the network is back.',
}

/**
 * Asks again by itself where the network is away or the server says that it is busy, and when. Changes carry an
 * idempotency key, so sending one again after a lost answer is safe.
 */
async function patient(request: Request): Promise<Response> {
  const change = request.method !== 'GET'
  const saved = useSaved()
  let asked = false
  if (change) saved.waiting++
  try {
    for (let attempt = 0; ; attempt++) {
      let wait = 0
      try {
        const response = await fetch(request.clone())
        if (response.status !== 503 || attempt >= 3) return response
        wait = Number(response.headers.get('Retry-After')) * 1000
      } catch (error) {
        if (attempt >= 3 || request.signal.aborted) throw error
      }
      if (!asked) saved.again++
      asked = true
      await new Promise((resolve) => setTimeout(resolve, Math.max(wait, 400 * 2 ** attempt)))
    }
  } finally {
    if (change) saved.waiting--
    if (asked) saved.again--
  }
}

export const api = createClient<paths>({ baseUrl: '/', fetch: patient })

/** The headers of one change. */
export const once = () => ({ 'Idempotency-Key': v7(), 'Happened-At': new Date().toISOString() })
export const newId = () => v7()

/** Takes the data out of an answer, or throws an ApiError. */
export async function take<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result
  try {
    result = await answer
  } catch {
    throw new ApiError(unreachable)
  }
  if (result.data === undefined) {
    const problem = (result.error as Problem | undefined)?.detail
      ? (result.error as Problem)
      : {
          title: result.response.statusText,
          status: result.response.status,
          detail: 'The server gave no readable answer.',
        }
    throw new ApiError(problem)
  }
  return result.data
}
