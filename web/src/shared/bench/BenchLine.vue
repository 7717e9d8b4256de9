<script setup lang="ts">
import { useLocalStorage, useSessionStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'

import type { Schemas } from '../../api/client'
import { useAsked } from '../instruments'
import StickerTag from '../StickerTag.vue'
import LineEcho from './LineEcho.vue'
import LineExamples from './LineExamples.vue'
import type { LineAnswer, LineChoice, LineSaid, Reader } from './reader'

/** A line as people say it. It is read while it is typed, by the reader of the server; stops come after Enter. */
const props = defineProps<{
  unit: Schemas['Unit']
  context: Schemas['BenchlineContext']
  pending: string[]
  lines: string[]
  reader?: Reader
  missing?: string
  /** Names of the other phones: a line that begins with one of them and a colon is about that one. */
  others?: string[]
}>()
const emit = defineEmits<{
  log: [line: string, answer: LineAnswer | undefined, said: LineSaid]
  /** The line turned to another phone; the rest of it goes there. */
  turn: [name: string, rest: string]
}>()
/** What stands on the line and was not sent yet survives a reload. */
const text = useSessionStorage(`waryowl-typed line ${props.unit.id}`, '')
const field = ref<HTMLInputElement>()
const echo = ref<InstanceType<typeof LineEcho>>()
const history = useLocalStorage<string[]>('waryowl-lines', [])
const back = ref(0)
const answer = shallowRef<LineAnswer>()
const left = ref(new Set<number>())
/** Why the server did not take the line that stands here again. */
const refusedWhy = ref('')
watch([text, () => props.context, () => props.pending, () => props.reader], () => {
  answer.value =
    text.value.trim() && props.reader ? props.reader.read(props.context, props.pending, text.value) : undefined
})
watch(text, (now) => {
  left.value = new Set()
  const [, name = '', rest = ''] = /^\s*([^:]+):\s*(.*)$/.exec(now) ?? []
  const other = props.others?.find((o) => o.toLowerCase() === name.trim().toLowerCase())
  if (!other) return
  text.value = ''
  emit('turn', other, rest)
})
const suggestions = computed(() => (text.value ? (answer.value?.suggest ?? []) : []))
function enter(choice?: LineChoice) {
  const line = text.value.trim()
  if (!line || line === '?') return
  const a = answer.value
  if (a && left.value.size && left.value.size >= a.facts.length) return
  history.value = [line, ...history.value.filter((l) => l !== line)].slice(0, 50)
  back.value = 0
  refusedWhy.value = ''
  emit('log', line, a, { choice: choice ?? a?.choices[0], leave: [...left.value] })
  text.value = ''
  field.value?.focus()
}
function leave(i: number) {
  const next = new Set(left.value)
  if (!next.delete(i)) next.add(i)
  left.value = next
}
function up() {
  if (history.value[back.value]) text.value = history.value[back.value++]!
}
function complete(e: KeyboardEvent) {
  const first = suggestions.value[0]
  if (!first) return
  e.preventDefault()
  text.value = first + ' '
}
const focus = () => field.value?.focus()
/** The server refused a line: it stands here again, with the reason, unless something else is being typed. */
function again(line: string, why: string) {
  if (text.value) return
  text.value = line
  refusedWhy.value = why
}
/** What was typed so far for this phone, before the line turned to it. */
function put(rest: string) {
  text.value = rest
  focus()
}
/** A reading of any instrument goes into the line, with its unit; a digit that stays 0 is kept. */
const { ask } = useAsked()
const refused = ref('')
const measure = {
  unit: '',
  take: (r: Schemas['InstrumentReading'], from: string) => {
    refused.value = r.over ? `${from} is over its range.` : r.stable ? '' : `${from} does not stand still yet.`
    if (refused.value) return
    const digits = Math.max(0, Math.ceil(-Math.log10(r.resolution || 1)))
    text.value = `${text.value.trimEnd()} ${r.value.toFixed(digits)}${r.unit}`.trimStart()
  },
  refuse: (why: string) => (refused.value = why),
}
watch(text, () => (refused.value = ''))
const count = computed(() => (answer.value?.facts.length ?? 1) - left.value.size)
defineExpose({ focus, again, put })
</script>

<template>
  <form class="line no-print" @submit.prevent="enter()">
    <div v-if="text.trim() === '?'" class="reading whole" tabindex="0" role="region" aria-label="What can be written">
      <LineExamples :lines="lines" :context="context" :reader="reader" />
    </div>
    <div v-else-if="text" class="reading" aria-live="polite">
      <p v-if="refusedWhy" class="danger" role="alert">{{ refusedWhy }}</p>
      <LineEcho
        v-if="answer"
        ref="echo"
        :unit="unit.name"
        :answer="answer"
        :text="text"
        :left="left"
        @choose="enter"
        @leave="leave"
        @enter="enter()"
        @back="focus"
      />
    </div>
    <p v-if="refused" class="reading look" role="alert">{{ refused }}</p>
    <div class="bar" :class="unit.colour">
      <StickerTag :unit="unit" />
      <label class="hidden" for="bench-line">Bench line of {{ unit.name }}</label>
      <input
        id="bench-line"
        ref="field"
        v-model="text"
        class="fig"
        maxlength="400"
        autocomplete="off"
        spellcheck="false"
        :placeholder="missing || 'battery out · 4 star upper shield, shield off · again 4 min · ? for more'"
        @focus="ask(measure)"
        @keydown.up.prevent="up"
        @keydown.down.prevent="echo?.focus()"
        @keydown.tab="complete"
        @keydown.esc="((text = ''), field?.blur())"
      />
      <span class="quiet hint">
        <span class="keys">Enter</span>
        {{ count > 1 ? `log all ${count}` : 'log' }}
        <span class="keys">Tab</span>
        complete
        <span class="keys">↑</span>
        earlier
      </span>
    </div>
  </form>
</template>

<style scoped>
.line {
  position: fixed;
  left: 0;
  right: 0;
  bottom: 0;
  z-index: 15;
  background: var(--ground);
  border-top: 1px solid var(--ink);
}
.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  height: 56px;
  padding: 0 20px;
  border-left: 14px solid var(--sticker);
}
input {
  flex: 1;
  min-width: 0;
  height: 40px;
  font-size: 17px;
  padding: 0 10px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
}
input::placeholder {
  color: var(--quiet);
}
.whole {
  max-height: calc(100dvh - 130px);
  overflow-y: auto;
}
.reading {
  padding: 8px 20px 2px 34px;
  border-bottom: 1px solid var(--line);
  background: var(--sheet);
}
.hint {
  white-space: nowrap;
  font-size: 14px;
}
@media (max-width: 900px) {
  .hint {
    display: none;
  }
  .bar {
    padding: 0 10px;
  }
}
</style>
