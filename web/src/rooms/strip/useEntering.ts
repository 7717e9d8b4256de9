import { ref, type Ref } from 'vue'

import type { Schemas } from '../../api/client'
import type { useClocks } from '../../shared/bench/clocks'
import type { LineAnswer, LineSaid, Stop } from '../../shared/bench/reader'
import type { LogBody, useBench } from '../../shared/bench/useBench'
import { clock } from '../../shared/format'
import { order } from '../../words'

interface Question {
  title: string
  text?: string
  answers: string[]
  danger?: boolean
  answer: (i: number) => unknown
}

interface Bench {
  room: Ref<Schemas['StripRoom'] | undefined>
  /** Id of the phone that was chosen, "" for the first. */
  picked: Ref<string>
  unit: Ref<Schemas['Unit'] | undefined>
  state: Ref<Schemas['StripUnitState'] | undefined>
  steps: Ref<Map<string, Schemas['PlanStep']>>
  /** Stamp of the stopwatch in ms, undefined while it stands. */
  started: Ref<number | undefined>
  bench: ReturnType<typeof useBench>
  clocks: ReturnType<typeof useClocks>
}

/** What is asked before an entry is written: which phone, which part, why not, and the stops of the interlocks. */
export function useEntering(on: Bench) {
  const question = ref<Question>()
  async function answered(i: number) {
    const q = question.value
    question.value = undefined
    await q?.answer(i)
  }

  /** After a silence the first entry asks which phone lies there. */
  const last = ref(Date.now())
  async function write(body: LogBody, text: string, lines?: string[]) {
    if (!on.unit.value) return
    const units = on.room.value?.units ?? []
    const go = async () => {
      const seconds = on.started.value ? Math.max(1, Math.round((Date.now() - on.started.value) / 1000)) : 0
      last.value = Date.now()
      await on.bench.log({ seconds, ...body }, text, lines)
      if (on.started.value) on.started.value = Date.now()
    }
    const silence = 1000 * (on.room.value?.silence_seconds ?? 0)
    if (Date.now() - last.value < silence || units.length < 2) return go()
    question.value = {
      title: 'Which phone lies before you?',
      text: `Nothing was logged for a while. The entry: ${text}`,
      answers: units.map((u) => u.name),
      answer: (i) => {
        on.picked.value = units[i]!.id
        return go()
      },
    }
  }
  const name = (s?: { verb: string; what: string }) => (s ? order(s.verb, s.what) : 'step')
  /** The stops that a step raises now; a tile and a form raise the same ones as the line that says it. */
  async function stopsOf(step: Schemas['StepFacts'] & { id?: string }, back = false): Promise<Stop[]> {
    const read = await on.bench.ready()
    return read && on.state.value ? read.stops(on.state.value.bench, on.bench.pending.value, step, back) : []
  }
  /** Writes what was chosen by a button, after its stops. */
  async function choose(step: Schemas['StepFacts'] & { id?: string }, body: LogBody, text: string) {
    const stops = await stopsOf(step, body.back)
    return stops.length ? stop(stops, body, text) : write(body, text)
  }
  async function tile(n: Schemas['StripNextStep']) {
    const step = n.facts ?? on.steps.value.get(n.step_id!)
    if (step) await choose(step, n.facts ? { step: n.facts } : { step_id: n.step_id! }, name(step))
  }
  async function record(body: { step_id: string; back?: boolean }) {
    const step = on.steps.value.get(body.step_id)
    if (step) await choose(step, body, `${body.back ? 'put back, ' : ''}${name(step)}`)
  }

  /** A stop is answered with one key and recorded; "not yet" keeps the act out of the log. */
  function stop(
    stops: Stop[],
    body: LogBody,
    text: string,
    told: { rule: string; answer: string }[] = [],
    send: (more: LogBody) => unknown = (more) => write({ ...body, ...more }, text),
  ) {
    const s = stops[0]!
    question.value = {
      title: `Stop, ${on.unit.value!.name}: ${s.text}`,
      text: `${s.do} (Your entry: ${text})`,
      danger: true,
      answers: ['not yet, stopped', 'already done', ...s.reasons],
      answer: async (i) => {
        if (i === 0)
          return write(
            { kind: 'stop', note: text, detail: { stops: [{ rule: s.rule, answer: 'not yet' }] } },
            `stopped before: ${text}`,
          )
        const all = [...told, { rule: s.rule, answer: i === 1 ? 'already done' : s.reasons[i - 2]! }]
        if (stops.length > 1) return stop(stops.slice(1), body, text, all, send)
        await send({ detail: { stops: all } })
      },
    }
  }
  const reasons = ['it would have broken', 'no tool for it', 'not needed here', 'no time']
  /** What a line says that was entered before the reader was there. */
  async function late(text: string) {
    const read = on.bench.read.value ? undefined : await on.bench.ready()
    return read && on.state.value ? read.read(on.state.value.bench, on.bench.pending.value, text) : undefined
  }
  /** The same screws or lead once more, or a lever at a part that is out. */
  function isTwice(f: LineAnswer['facts'][number]) {
    if (f.fact.back || f.fact.outcome || f.fact.connector || f.fact.corrects) return false
    if (f.again && ['unfasten', 'disconnect', 'bracket', 'lift'].includes(f.fact.verb)) return true
    const lever = ['pry', 'peel', 'slide'].includes(f.fact.verb) && !f.fact.what && !f.fact.joint
    return lever && (on.state.value?.out.includes(f.fact.part ?? '') ?? false)
  }
  async function entered(text: string, known: LineAnswer | undefined, said: LineSaid = {}) {
    const a = known ?? (await late(text))
    const choice = said.choice ?? a?.choices[0]
    const facts = choice?.facts ?? a?.facts ?? []
    const left = said.leave ?? []
    const kept = facts.filter((_, i) => !left.includes(i))
    const body: LogBody = {
      line: text,
      ...(choice ? { choice: choice.text } : {}),
      ...(left.length ? { leave: left } : {}),
      ...(facts.length ? { echoed: facts.map((f) => f.echo) } : {}),
    }
    const unit = `${on.unit.value!.name}: `
    const lines = kept.some((f) => f.fact.corrects) ? undefined : kept.map((f) => f.echo.replace(unit, ''))
    const told = kept.length ? kept.map((f) => f.say).join('. ') : text
    const send = async (more: LogBody = {}) => {
      await write({ ...body, ...more }, told, lines)
      if (choice?.learn?.length) await on.bench.teach(choice.learn)
    }
    if (a?.asks === 'side') {
      const sides = ['front', 'back']
      question.value = {
        title: `${on.unit.value!.name}: which side is heated?`,
        text: `Your line: ${text}`,
        answers: [...sides, 'not said: it counts for the side in work'],
        answer: (i) => {
          const line = sides[i] ? `${text} ${sides[i]}` : text
          const c = on.state.value?.bench
          const again = c && on.bench.read.value?.read(c, on.bench.pending.value, line)
          return entered(line, again ? { ...again, asks: undefined } : undefined, { leave: left })
        },
      }
      return
    }
    const twice = said.sure ? undefined : kept.find(isTwice)
    if (twice) {
      question.value = {
        title: `${on.unit.value!.name}: ${twice.say.toLowerCase()}? That is done already.`,
        text: `Your line: ${text}`,
        answers: ['it was a slip: log nothing', 'it went back in between: log it'],
        answer: (i) => (i ? entered(text, a, { ...said, sure: true }) : undefined),
      }
      return
    }
    const unfinished = kept.find((f) => f.fact.outcome && f.fact.outcome !== 'done' && !f.fact.note)
    const stops = kept.flatMap((f) => f.stops)
    if (unfinished && !stops.length) {
      question.value = {
        title: `${unfinished.fact.outcome}: why?`,
        answers: reasons,
        answer: (i) => send({ reason: reasons[i]! }),
      }
    } else if (stops.length) stop(stops, body, told, [], send)
    else await send()
  }
  /** Silences the loudest clock and asks for its result; its line is logged on its own phone. */
  function silence() {
    const c = on.clocks.loudest.value ?? on.clocks.running.value[0]
    if (!c || question.value || !on.unit.value) return // without the room its result could not be written down
    on.clocks.silence(c.id)
    const soak = c.task === 'soak'
    question.value = {
      title: `${c.name}: ${c.task}, ${c.face}, ${clock(on.clocks.ran(c))}. Result?`,
      answers: soak ? ['no gap', 'gap', 'mark', 'goes on'] : ['done', 'did not let go', 'goes on'],
      answer: async (i) => {
        if (i === (soak ? 3 : 2)) return
        const own = on.picked.value
        on.picked.value = c.unit
        const result = soak ? ['no gap', 'gap', 'mark'][i] : i ? 'gave up' : ''
        const text = c.task === 'cure' ? c.line : `${c.line} ${on.clocks.ran(c)}s ${result}`.trim()
        await write({ line: text, seconds: 0, ...(i && !soak ? { reason: 'did not let go' } : {}) }, text)
        on.clocks.end(c.id)
        on.picked.value = own || c.unit
      },
    }
  }
  return { question, answered, write, tile, record, entered, silence, stopsOf }
}
