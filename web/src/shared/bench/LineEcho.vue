<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import type { LineAnswer, LineChoice } from './reader'

/**
 * What a line would log, before Enter: one short sentence a fact, or the question that it leaves open. In the line a digit is
 * text; here, after Down, a digit answers the question, or else leaves that fact out.
 */
const props = defineProps<{ unit: string; answer: LineAnswer; text: string; left: Set<number> }>()
const emit = defineEmits<{ choose: [choice: LineChoice]; leave: [index: number]; enter: []; back: [] }>()
const box = ref<HTMLElement>()
defineExpose({ focus: () => nextTick(() => box.value?.focus()) })
const asks = computed(() => {
  const a = props.answer
  if (!a.choices.length) return ''
  if (a.asks === 'entry') return 'Which entry is taken back?'
  if (a.asks === 'new part') return 'A part that is not on record yet?'
  return a.asks === 'part' && !a.facts.some((f) => f.candidates?.length) ? 'Which part?' : 'Which one is meant?'
})
/** The line with the words that were not read, in their place. */
const marked = computed(() => {
  const letters = [...props.text]
  const out: { text: string; look: boolean }[] = []
  let at = 0
  for (const u of props.answer.unread) {
    if (u.column - 1 < at) continue
    out.push({ text: letters.slice(at, u.column - 1).join(''), look: false })
    at = u.column - 1 + u.length
    out.push({ text: letters.slice(u.column - 1, at).join(''), look: true })
  }
  out.push({ text: letters.slice(at).join(''), look: false })
  return out
})
function key(e: KeyboardEvent) {
  const n = Number(e.key)
  if (n >= 1 && n <= 9 && !e.ctrlKey && !e.metaKey) {
    const choice = props.answer.choices[n - 1]
    if (choice) emit('choose', choice)
    else if (!props.answer.choices.length && props.answer.facts.length > 1 && n <= props.answer.facts.length)
      emit('leave', n - 1)
  } else if (e.key === 'Enter') emit('enter')
  else if (e.key === 'ArrowUp' || e.key === 'Escape') emit('back')
  else return
  e.preventDefault()
  e.stopPropagation()
}
</script>

<template>
  <div ref="box" class="echo" tabindex="-1" role="group" aria-label="What this line says" @keydown="key">
    <p v-if="answer.unread.length" class="fig marked">
      <template v-for="(m, i) in marked" :key="i">
        <mark v-if="m.look" :title="answer.unread[0]?.text">{{ m.text }}</mark>
        <span v-else>{{ m.text }}</span>
      </template>
      <span class="look">{{ answer.unread[0]!.text }}: it changes nothing here</span>
    </p>
    <p v-if="asks" class="look">
      {{ asks }}
      <span class="quiet">
        <span class="keys">↓</span>
        then a digit; Enter takes the first
      </span>
    </p>
    <ol v-if="asks" class="plain facts">
      <li v-for="(c, i) in answer.choices" :key="c.text" :class="{ on: i === 0 }">
        <button type="button" class="bare" tabindex="-1" @click="emit('choose', c)">
          <span class="keys">{{ i + 1 }}</span>
          {{ c.text }}
        </button>
      </li>
    </ol>
    <ol class="plain facts">
      <li class="bare">
        <b>{{ unit }}:</b>
      </li>
      <li
        v-for="(f, i) in asks ? answer.choices[0]!.facts : answer.facts"
        :key="i"
        :class="{ note: f.fact.kind === 'note', out: left.has(i) }"
      >
        <button
          v-if="!asks && answer.facts.length > 1"
          type="button"
          class="bare"
          tabindex="-1"
          :aria-pressed="!left.has(i)"
          @click="emit('leave', i)"
        >
          <span class="keys">{{ i + 1 }}</span>
          {{ f.say }}
        </button>
        <span v-else>{{ f.say }}</span>
        <span v-if="f.again" class="quiet">again, was done already</span>
        <span v-else-if="f.new_part" class="quiet">new part</span>
      </li>
      <li v-if="!asks && answer.facts.length > 1" class="quiet bare">
        <span class="keys">↓</span>
        then a digit leaves a fact out
      </li>
    </ol>
    <p v-if="answer.asks === 'side'" class="look">Enter asks which side.</p>
    <p v-for="f in answer.facts.filter((x) => x.lacks.length)" :key="f.echo" class="look">
      {{ f.lacks.join(', ') }} not logged: the plan would learn that it is not needed
    </p>
    <p v-for="s in answer.stops" :key="s.rule" class="danger">Stop: {{ s.text }}</p>
    <p v-for="f in answer.facts.filter((x) => x.doubt)" :key="f.say" class="look">
      {{ f.doubt!.text }}
      <template v-if="f.doubt!.fixes.length">
        Perhaps
        <span class="fig">{{ f.doubt!.fixes.join(', ') }}</span>
      </template>
    </p>
  </div>
</template>

<style scoped>
.echo:focus {
  outline: 2px solid var(--pine);
  outline-offset: 2px;
}
.facts {
  display: flex;
  gap: 6px 10px;
  flex-wrap: wrap;
  align-items: baseline;
}
.facts li {
  border: 0;
  border-left: 4px solid var(--pine);
  background: var(--wash);
  padding: 3px 12px;
  font-weight: 600;
}
.facts li.note {
  border-left-color: var(--strong-line);
  font-weight: 400;
}
.facts li.bare {
  border: 0;
  background: none;
  font-weight: 400;
}
.facts li.out {
  text-decoration: line-through;
  color: var(--quiet);
}
.facts .quiet {
  font-weight: 400;
  margin-left: 8px;
}
.keys {
  margin-right: 6px;
}
.marked mark {
  background: var(--amber-wash);
  color: var(--amber);
  border-bottom: 2px solid var(--amber-fill);
}
.marked .look {
  margin-left: 16px;
}
</style>
