import wasm from '../../../wasm/bench.wasm?url'
import type { Schemas } from '../../api/client'

export interface Trouble {
  column: number
  length: number
  word: string
  text: string
  known: string[]
}
export interface Stop {
  rule: string
  text: string
  do: string
  reasons: string[]
}
/** One fact of a line as it would be logged. */
export interface LineFact {
  fact: {
    kind?: string
    verb: string
    back?: boolean
    outcome?: string
    note?: string
    seconds?: number
    method?: string
    side?: string
    corrects?: { entry: string; how: string }
    part?: string
    what?: string
    joint?: string
    connector?: string
  }
  echo: string
  say: string
  unread: Trouble[]
  new_part?: { name: string; kind: string; family: string }
  candidates?: { id: string; name: string }[]
  step_id: string
  step?: string
  again: boolean
  lacks: string[]
  stops: Stop[]
  doubt?: { kind: string; text: string; fixes: string[] }
  asks?: string
}
/** One way in which a line may have been meant, and what answering so teaches the workshop. */
export interface LineChoice {
  text: string
  facts: LineFact[]
  learn?: { say: string; means: string; kind: string }[]
}
/** A line as it would be logged, from the Go parser. */
export interface LineAnswer extends LineFact {
  facts: LineFact[]
  choices: LineChoice[]
  suggest: string[]
  read: string
}
/** What somebody said of a line before it was logged. */
export interface LineSaid {
  choice?: LineChoice
  leave?: number[]
  /** It was asked whether something is done twice, and it is. */
  sure?: boolean
}
interface Bench {
  read(context: string, pending: string, line: string): string
  next(context: string, pending: string): string
  stops(context: string, pending: string, step: string, back: boolean): string
  trace(corners: string, width: number, height: number, a: string, b: string): string
  reading(line: string, unit: string): string
}
export interface Place {
  x: number
  y: number
}
declare global {
  var waryowlBench: Bench | undefined
  var Go: new () => { importObject: WebAssembly.Imports; run(i: WebAssembly.Instance): Promise<void> }
}

let loading: Promise<Bench> | undefined
/** Loads the Go parser, once. */
function load(): Promise<Bench> {
  loading ??= (async () => {
    await new Promise((done, failed) => {
      const script = document.createElement('script')
      script.src = '/wasm_exec.js'
      script.onload = done
      script.onerror = () => failed(new Error('The reader of the bench line could not be loaded.'))
      document.head.append(script)
    })
    const go = new Go()
    const { instance } = await WebAssembly.instantiateStreaming(fetch(wasm), go.importObject)
    void go.run(instance)
    return globalThis.waryowlBench!
  })().catch((error: unknown) => {
    loading = undefined
    throw error
  })
  return loading
}

type Context = Schemas['BenchlineContext']
export async function reader() {
  const bench = await load()
  const clock = (c: Context) => JSON.stringify({ ...c, second: Math.floor(Date.now() / 1000) })
  return {
    read: (c: Context, pending: string[], line: string) =>
      JSON.parse(bench.read(clock(c), JSON.stringify(pending), line)) as LineAnswer,
    /** Millimetres of a rectangle that was drawn on a picture, from the four corners of the phone in it. */
    trace: (corners: Place[], width: number, height: number, a: Place, b: Place) =>
      JSON.parse(bench.trace(JSON.stringify(corners), width, height, JSON.stringify(a), JSON.stringify(b))) as {
        x: number
        y: number
        w: number
        h: number
        error?: string
      },
    /** A line of an instrument, and why it does not go into a measure of this unit. */
    reading: (line: string, unit: string) =>
      JSON.parse(bench.reading(line, unit)) as {
        error?: string
        reading?: Schemas['InstrumentReading']
        refused?: string
      },
    /** The stops of a step that a tile chose or a form describes, before it is logged. */
    stops: (c: Context, pending: string[], step: Partial<Schemas['EngineStep']>, back = false) =>
      JSON.parse(
        bench.stops(clock(c), JSON.stringify(pending), JSON.stringify({ id: '', mark: '', ...step }), back),
      ) as Stop[],
    next: (c: Context, pending: string[]) => JSON.parse(bench.next(clock(c), JSON.stringify(pending))) as string[],
  }
}
export type Reader = Awaited<ReturnType<typeof reader>>
