<script setup lang="ts">
import { ElAutocomplete, ElButton, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'

import { api, type Schemas } from '../../api/client'
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
  dark_screen: boolean
  dead_gate: string[]
}>({ required: true })
const props = defineProps<{ checks: Schemas['Check'][]; results: Record<string, string>; study: string }>()
const gone = ['restart', 'charge', 'settling', 'reset', 'update', 'calibration'] as const
const gate = ['charger', 'some minutes waited', 'reseated once', 'reseated twice', 'known-good part']
function again() {
  const last = facts.value.later.at(-1)?.minutes ?? facts.value.boot_minutes
  facts.value.later.push({ minutes: last + 10, after: ['restart', 'charge', 'settling'], results: {} })
}
/** Notices that were shown before: all of them, or those that say in other words what is typed. */
async function known(typed: string, done: (list: { value: string; kind: Schemas['Notice']['kind'] }[]) => void) {
  const { data } = await api.GET('/api/studies/{id}/notices', {
    params: { path: { id: props.study }, query: { typed: typed.trim() } },
  })
  done((data ?? []).map((n) => ({ value: n.text, kind: n.kind as Schemas['Notice']['kind'] })))
}
function toggle(list: string[], x: string) {
  const k = list.indexOf(x)
  if (k >= 0) list.splice(k, 1)
  else list.push(x)
}
</script>

<template>
  <div>
    <fieldset>
      <legend>Notices shown</legend>
      <label class="tick">
        <input v-model="facts.notices_read" type="checkbox" />
        The list of notices was read
      </label>
      <div v-for="(n, i) in facts.notices" :key="i" class="row">
        <ElAutocomplete
          v-model="n.text"
          :fetch-suggestions="known"
          :teleported="false"
          highlight-first-item
          maxlength="120"
          class="wide"
          :aria-label="`Notice ${i + 1}`"
          placeholder="what it says; the same as before is offered, Enter takes it"
          @select="(k) => (n.kind = (k as { kind: Schemas['Notice']['kind'] }).kind)"
        />
        <ElSelect v-model="n.kind" :teleported="false" :aria-label="`Notice ${i + 1} stays or passes`" class="kind">
          <ElOption value="persistent" label="stays" />
          <ElOption value="passing" label="passes" />
        </ElSelect>
        <button type="button" class="bare link" @click="facts.notices.splice(i, 1)">remove</button>
      </div>
      <ElButton size="small" @click="facts.notices.push({ text: '', kind: 'persistent' })">A notice</ElButton>
    </fieldset>
    <label class="line">
      Symptom in words
      <ElInput v-model="facts.symptom" maxlength="300" placeholder="of the phone as a whole: freezes, restarts …" />
    </label>
    <label class="line">
      Minutes from the start of the phone to the first reading
      <ElInputNumber v-model="facts.boot_minutes" :min="0" aria-label="Minutes to the first reading" />
    </label>
    <label class="tick">
      <input v-model="facts.dark_screen" type="checkbox" />
      The screen showed nothing: what needs a picture waits for the start check
    </label>
    <fieldset v-if="results.boot === 'lost' || facts.dark_screen || facts.dead_gate.length">
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
        <ElInputNumber v-model="l.minutes" :min="0" :aria-label="`Reading ${i + 2}, minutes since the start`" />
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
  </div>
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
.wide {
  flex: 1;
}
.kind {
  width: 96px;
}
</style>
