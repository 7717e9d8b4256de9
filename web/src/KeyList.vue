<script setup lang="ts">
import { computed, ref } from 'vue'

import { benchKeys, keyOf, remap, type BenchKey } from './shared/keys'
import { rooms } from './words'

/** The keys, those of the room in which one stands first; those of the bench can be put elsewhere. */
const props = defineProps<{ room: string }>()
const everywhere: [string, string][] = [
  ['/', 'find'],
  ['g', 'rooms: then the letter beside a room'],
  ['?', 'these keys'],
  ['Enter', 'yes, or the first act of the room'],
  ['Esc', 'back'],
  ['x', 'no'],
  ['e', 'edit'],
  ['n', 'new: study, phone, step or test'],
]
const checks: [string, string] = [
  'p w l s d',
  'on a check: pass, weak, lost, skipped, could not be tested; then the next check',
]
const of: Record<string, [string, string][]> = {
  intake: [checks],
  swap: [
    checks,
    ['Enter', 'start the first act that is advised'],
    ['h', 'put all originals back'],
    ['j', 'say what was done between two tests'],
    ['m o h k', 'on a part: move it over, leave it off, original home, damaged'],
  ],
  'dry-run': [['1 2', 'read the PINE board, the AMBER board']],
  fault: [['y n t', 'answer the act: yes, no, at times']],
  narration: [
    ['Enter', 'take the proposal'],
    ['1 … 9', 'choose among its readings'],
    ['space', 'play from its words'],
  ],
  visit: [
    ['f j d', 'follow the repair, job card, find the fault'],
    ['w h p', 'it waits for a part, hand it back, print the slip'],
  ],
  repair: [
    ['space', 'next screw, then the next act'],
    ['← u', 'back, take it back'],
    ['x l', 'something broke, the record lacks something'],
    ['1 2 3', 'after heat: no gap, gap, mark; on a check: works, lost'],
    ['m +', 'what may be done meanwhile, half a minute more'],
  ],
  job: [['Enter', 'take a phone in']],
  strip: [['1 … 8', 'log the step on that tile']],
}
const refused = ref('')
const benchList = Object.keys(benchKeys) as BenchKey[]
const own = computed(() => of[props.room] ?? [])
const bench = computed(() => ['strip', 'closeup', 'narration', 'intake'].includes(props.room))
function change(k: BenchKey, e: Event) {
  const field = e.target as HTMLInputElement
  refused.value = remap(k, field.value.toLowerCase()) ? '' : field.value
  field.value = keyOf(k)
}
</script>

<template>
  <div>
    <template v-if="own.length">
      <h3>{{ rooms[room] }}</h3>
      <dl>
        <template v-for="[k, words] in own" :key="k">
          <dt class="fig">{{ k }}</dt>
          <dd>{{ words }}</dd>
        </template>
      </dl>
    </template>
    <div class="cols" :class="{ first: bench }">
      <section>
        <h3>Everywhere</h3>
        <dl>
          <template v-for="[k, words] in everywhere" :key="k">
            <dt class="fig">{{ k }}</dt>
            <dd>{{ words }}</dd>
          </template>
        </dl>
      </section>
      <section>
        <h3>At the bench</h3>
        <dl>
          <template v-for="k in benchList" :key="k">
            <dt>
              <input
                class="fig remap"
                maxlength="1"
                :value="keyOf(k)"
                :aria-label="`Key: ${benchKeys[k][1]}`"
                @change="change(k, $event)"
              />
            </dt>
            <dd>{{ benchKeys[k][1] }}</dd>
          </template>
        </dl>
      </section>
    </div>
    <p v-if="refused" class="look" role="status">“{{ refused }}” is taken; choose another key.</p>
    <p class="quiet">The keys of the bench can be put elsewhere: type another one into its field.</p>
  </div>
</template>

<style scoped>
h3 {
  font-size: 15px;
  border-bottom: 1px solid var(--ink);
  padding-bottom: 4px;
  margin: 10px 0 6px;
}
.cols {
  display: flex;
  flex-direction: column;
}
.cols.first {
  flex-direction: column-reverse;
}
dl {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 4px 12px;
  margin: 0;
}
dd {
  margin: 0;
}
.remap {
  width: 34px;
  height: 28px;
  text-align: center;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
}
</style>
