<script setup lang="ts">
import { ElButton } from 'element-plus'

import type { Schemas } from '../../api/client'
import ResultCell from '../../shared/ResultCell.vue'

/**
 * What a trial shows besides the first results: notices, the symptom in words, later readings, and what was tried
 * before it was called dead.
 */
const facts = defineModel<{
  notices: Schemas['Notice'][]
  notices_read: boolean
  symptom: string
  later: Schemas['Later'][]
  boot_minutes: number
  dead_gate: string[]
}>({ required: true })
defineProps<{ checks: Schemas['Check'][]; results: Record<string, string> }>()
const gone = ['restart', 'charge', 'settling', 'reset', 'update', 'calibration'] as const
const gate = ['charger', 'some minutes waited', 'reseated once', 'reseated twice', 'known-good part']
function again() {
  const last = facts.value.later.at(-1)?.minutes ?? facts.value.boot_minutes
  facts.value.later.push({ minutes: last + 10, after: ['restart', 'charge', 'settling'], results: {} })
}
function toggle(list: string[], x: string) {
  const k = list.indexOf(x)
  if (k >= 0) list.splice(k, 1)
  else list.push(x)
}
</script>

<template>
  <fieldset>
    <legend>Notices shown</legend>
    <label class="tick">
      <input v-model="facts.notices_read" type="checkbox" />
      The list of notices was read
    </label>
    <div v-for="(n, i) in facts.notices" :key="i" class="row">
      <input v-model="n.text" maxlength="120" class="wide" :aria-label="`Notice ${i + 1}`" placeholder="what it says" />
      <select v-model="n.kind" :aria-label="`Notice ${i + 1} stays or passes`">
        <option value="persistent">stays</option>
        <option value="passing">passes</option>
      </select>
      <button type="button" class="bare link" @click="facts.notices.splice(i, 1)">remove</button>
    </div>
    <ElButton size="small" @click="facts.notices.push({ text: '', kind: 'persistent' })">A notice</ElButton>
  </fieldset>
  <label class="line">
    Symptom in words
    <input v-model="facts.symptom" maxlength="300" placeholder="freezes, lags, half bright …" />
  </label>
  <label class="line">
    Minutes from the start of the phone to the first reading
    <input v-model.number="facts.boot_minutes" type="number" min="0" class="fig short" />
  </label>
  <fieldset v-if="results.boot === 'lost' || facts.dead_gate.length">
    <legend>Before it is called dead</legend>
    <label v-for="g in gate" :key="g" class="tick">
      <input type="checkbox" :checked="facts.dead_gate.includes(g)" @change="toggle(facts.dead_gate, g)" />
      {{ g }}
    </label>
  </fieldset>
  <fieldset v-for="(l, i) in facts.later" :key="i">
    <legend>Read again</legend>
    <label class="line">
      Minutes since the start
      <input
        v-model.number="l.minutes"
        type="number"
        min="0"
        class="fig short"
        :aria-label="`Reading ${i + 2}, minutes since the start`"
      />
    </label>
    <label v-for="g in gone" :key="g" class="tick">
      <input type="checkbox" :checked="l.after?.includes(g)" @change="toggle((l.after ??= []), g)" />
      {{ g }}
    </label>
    <table>
      <tbody>
        <tr v-for="c in checks.filter((x) => results[x.mark] && results[x.mark] !== 'skipped')" :key="c.mark">
          <td>{{ c.name }}</td>
          <td>
            <ResultCell
              :result="l.results[c.mark]"
              :label="`Again: ${c.name}`"
              type="button"
              @set="(r) => (l.results[c.mark] = r)"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <button type="button" class="bare link" @click="facts.later.splice(i, 1)">remove this reading</button>
  </fieldset>
  <ElButton size="small" :disabled="!Object.keys(results).length" @click="again">Read again later</ElButton>
</template>

<style scoped>
fieldset {
  border: 1px solid var(--line);
  margin: 0 0 10px;
  padding: 6px 10px;
}
legend,
.line,
td {
  font-size: 14px;
}
td {
  padding: 1px 6px 1px 0;
}
.tick {
  display: inline-flex;
  gap: 6px;
  margin-right: 14px;
  font-size: 14px;
}
.line {
  display: flex;
  flex-direction: column;
  margin-bottom: 8px;
}
input:not([type='checkbox']),
select {
  font-size: 15px;
  padding: 4px 6px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
}
.wide {
  flex: 1;
}
.short {
  width: 90px;
}
</style>
