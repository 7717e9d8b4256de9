<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'

import type { Schemas } from '../../api/client'
import { useAsked } from '../instruments'
import StickerTag from '../StickerTag.vue'
import { useTrade } from '../useTrade'
import GrammarTable from './GrammarTable.vue'
import type { LineAnswer, Reader } from './reader'

/** One line logs one fact. It is read while it is typed, by the parser of the server; stops come after Enter. */
const props = defineProps<{
  unit: Schemas['Unit']
  context: Schemas['BenchlineContext']
  pending: string[]
  reader?: Reader
  missing?: string
}>()
const emit = defineEmits<{ log: [line: string, answer: LineAnswer | undefined] }>()
const text = ref('')
const field = ref<HTMLInputElement>()
const history = useLocalStorage<string[]>('waryowl-lines', [])
const back = ref(0)
const pick = ref(-1)
const answer = shallowRef<LineAnswer>()
watch([text, () => props.context, () => props.pending, () => props.reader], () => {
  answer.value =
    text.value.trim() && props.reader ? props.reader.read(props.context, props.pending, text.value) : undefined
})
watch(text, () => (pick.value = -1))
const suggestions = computed(() => (text.value ? (answer.value?.suggest ?? []) : []))
const trouble = computed(() => answer.value?.unread[0])
/** What is told of several words at once: those that share the reason of the first. */
const troubled = computed(() => answer.value?.unread.filter((u) => u.text === trouble.value?.text) ?? [])
function enter() {
  const chosen = suggestions.value[pick.value]
  if (chosen) {
    text.value = chosen + ' '
    return
  }
  const line = text.value.trim()
  if (!line) return
  history.value = [line, ...history.value.filter((l) => l !== line)].slice(0, 50)
  back.value = 0
  emit('log', line, answer.value)
  text.value = ''
}
function up() {
  if (pick.value > 0) pick.value--
  else if (pick.value === 0) pick.value = -1
  else if (history.value[back.value]) text.value = history.value[back.value++]!
}
function complete(e: KeyboardEvent) {
  const first = suggestions.value[Math.max(0, pick.value)]
  if (!first) return
  e.preventDefault()
  text.value = first + ' '
}
function mend(word: string) {
  const t = trouble.value!
  const letters = [...text.value]
  letters.splice(t.column - 1, t.length, word)
  text.value = letters.join('')
  void nextTick(() => field.value?.focus())
}
const { trade } = useTrade()
/** Nothing but a verb yet: lines that go on from it. */
const examples = computed(() => {
  const [first, ...rest] = text.value.trim().split(/\s+/)
  return rest.length ? [] : (trade.value.grammar.find((v) => v.letter === first || v.id === first)?.examples ?? [])
})
const focus = () => field.value?.focus()
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
defineExpose({ focus })
</script>

<template>
  <form class="line no-print" @submit.prevent="enter">
    <div
      v-if="text.trim() === '?'"
      class="reading whole"
      tabindex="0"
      role="region"
      aria-label="Grammar of the bench line"
    >
      <GrammarTable />
    </div>
    <div v-else-if="text" class="reading" aria-live="polite">
      <p v-if="examples.length" class="quiet">
        As in
        <span v-for="e in examples" :key="e" class="fig example">{{ e }}</span>
      </p>
      <p v-if="answer" class="echo">
        <b>{{ answer.echo }}</b>
        <span v-if="answer.asks === 'side'" class="look">Enter asks which side.</span>
        <span v-if="answer.step" class="quiet">= plan {{ answer.step }}{{ answer.again ? ', done already' : '' }}</span>
        <span v-else-if="answer.candidates?.length" class="look">Enter asks which one is meant.</span>
        <span v-else-if="answer.new_part" class="look">
          Enter records a new part: {{ answer.new_part.name
          }}{{ answer.new_part.kind ? `, ${answer.new_part.kind.replaceAll('-', ' ')}` : '' }}
        </span>
        <span v-else-if="!['note', 'measure', 'incident', 'tool'].includes(answer.fact.verb)" class="quiet">
          new: the plan learns it
        </span>
        <span v-if="answer.lacks.length" class="look">
          {{ answer.lacks.join(', ') }} not logged: the plan would learn that it is not needed
        </span>
        <span v-for="s in answer.stops" :key="s.rule" class="danger">Stop: {{ s.text }}</span>
      </p>
      <p v-if="answer?.doubt" class="look">
        {{ answer.doubt.text }}
        <template v-if="answer.doubt.fixes.length">
          Perhaps
          <span class="fig">{{ answer.doubt.fixes.join(', ') }}</span>
        </template>
      </p>
      <p v-if="trouble" class="look">
        {{ troubled.map((u) => `“${u.word}”`).join(', ') }}, from column {{ trouble.column }}: {{ trouble.text }}.
        <button v-for="k in trouble.known" :key="k" type="button" class="bare link" @click="mend(k)">{{ k }}</button>
      </p>
      <ul v-if="suggestions.length" class="plain suggest">
        <li v-for="(s, i) in suggestions" :key="s" :class="{ on: i === Math.max(0, pick) }">
          <button type="button" class="bare" tabindex="-1" @click="((text = s + ' '), focus())">{{ s }}</button>
        </li>
      </ul>
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
        :placeholder="missing || 'u 4 tri-wing 1.2x1.6 @upper-bracket · d battery · ? for all of it'"
        @focus="ask(measure)"
        @keydown.up.prevent="up"
        @keydown.down.prevent="pick = Math.min(suggestions.length - 1, pick + 1)"
        @keydown.tab="complete"
        @keydown.esc="((text = ''), field?.blur())"
      />
      <span class="quiet hint">
        <span class="keys">Enter</span>
        log
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
.echo {
  display: flex;
  gap: 4px 14px;
  flex-wrap: wrap;
}
.example {
  margin-right: 18px;
}
.suggest {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
}
.suggest li {
  border: 1px solid var(--line);
  padding: 0 8px;
  font-family: var(--mono);
  font-size: 14px;
}
.suggest li.on {
  border-color: var(--pine);
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
