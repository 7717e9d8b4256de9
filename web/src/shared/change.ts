/** What a change is known to have come to, from the status of its answer; 0: no answer came. */
export function settled(status: number): boolean {
  // Without an answer, while the server is busy, or while a service behind it has not spoken, the change may have been
  // made: only the same key makes sending it again safe.
  return status !== 0 && status !== 424 && status < 500
}

export interface Header {
  'Idempotency-Key': string
  'Happened-At': string
}

/** Keeps the key of a change until it is known what became of it; `fresh` makes a new one. */
export class ChangeKey {
  private header: Header
  constructor(private readonly fresh: () => Header) {
    this.header = fresh()
  }
  get now(): Header {
    return this.header
  }
  /** Tells the answer; a change that is settled gives its key away. */
  told(status: number) {
    if (settled(status)) this.header = this.fresh()
  }
}

/** Carries out changes of one row one after the other, each on what the one before it left. */
export class Line {
  private last: Promise<unknown> = Promise.resolve()
  next<T>(work: () => Promise<T>): Promise<T> {
    const run = this.last.then(work, work)
    this.last = run.catch(() => undefined)
    return run
  }
}

/** The entries that may be sent: in their order, but what waits behind a refused one of the same row is held back. */
export function sendable<T extends { row: string; problem?: unknown }>(entries: T[]): T | undefined {
  const held = new Set(entries.filter((e) => e.problem).map((e) => e.row))
  return entries.find((e) => !e.problem && !held.has(e.row))
}

/** What becomes of a queued entry by the status of its answer. */
export function fate(status: number): 'taken' | 'refused' | 'wait' | 'sign in' {
  if (status >= 500 || status === 0) return 'wait'
  if (status === 401) return 'sign in'
  return status >= 200 && status < 300 ? 'taken' : 'refused'
}
