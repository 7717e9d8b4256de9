<script setup lang="ts">
import { ElAutocomplete, ElButton, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import ResultCell from '../../shared/ResultCell.vue'
import { useTrade } from '../../shared/useTrade'

/**
 * What the checks showed, the likely losses first: one letter a check, one key for all the others, and beside a loss what
 * it looked like and what was measured.
 */
const props = defineProps<{
  checks: Schemas['Check'][]
  likely: string[]
  baseline: Record<string, string | undefined>
  last?: Record<string, string | undefined>
}>()
const emit = defineEmits<{ record: [] }>()
const results = defineModel<Record<string, string>>('results', { required: true })
const assumed = defineModel<Set<string>>('assumed', { required: true })
const seen = defineModel<Record<string, Schemas['Seen']>>('seen', { required: true })
const { trade } = useTrade()
const catalogue = ref(!props.likely.length)
const rows = computed(() => {
  if (catalogue.value) return props.checks
  const rank = (c: Schemas['Check']) => {
    const k = props.likely.indexOf(c.mark)
    return k < 0 ? props.likely.length : k
  }
  return [...props.checks].sort((a, b) => rank(a) - rank(b))
})
const untested = computed(() => props.checks.filter((c) => !results.value[c.mark]).length)
const others = computed(() => props.checks.filter((c) => !results.value[c.mark] && props.baseline[c.mark]).length)
const asking = ref(false)
function mark(check: string, r: string) {
  asking.value = false
  results.value[check] = r
  assumed.value.delete(check)
}
/** Fills empty cells hollow: they count for nothing until they are confirmed as seen. */
function fill(from: Record<string, string | undefined>) {
  for (const c of props.checks) {
    const r = from[c.mark]
    if (!results.value[c.mark] && r) {
      results.value[c.mark] = r
      assumed.value.add(c.mark)
    }
  }
}
/** All others as before it was opened: asked once, then they count as seen. */
function rest() {
  if (!asking.value) {
    asking.value = others.value > 0
    return
  }
  asking.value = false
  for (const c of props.checks) if (!results.value[c.mark]) results.value[c.mark] = props.baseline[c.mark] ?? ''
  for (const c of props.checks) if (!results.value[c.mark]) delete results.value[c.mark]
}
function key(e: KeyboardEvent) {
  if (e.ctrlKey || e.metaKey || e.altKey || !(e.target as HTMLElement).closest('[data-check]')) return
  if (e.key === 'a') rest()
  else if (e.key === 'r') emit('record')
  else if (e.key === 'Escape' && asking.value) asking.value = false
  else return
  e.preventDefault()
  e.stopPropagation()
}
function move(i: number, by: number) {
  document.querySelector<HTMLElement>(`[data-check="${i + by}"] button`)?.focus()
}
const told = (mark: string) => ['lost', 'weak'].includes(results.value[mark] ?? '') || !!seen.value[mark]
const of = (mark: string) => (seen.value[mark] ??= {})
const words = (typed: string, done: (list: { value: string }[]) => void) =>
  done(trade.value.symptoms.filter((w) => w.includes(typed.toLowerCase())).map((value) => ({ value })))
</script>

<template>
  <section @keydown="key">
    <h3>
      What the checks showed
      <span class="quiet">{{ untested }} untested</span>
    </h3>
    <p class="row fills">
      <ElButton size="small" :disabled="!last" @click="fill(last ?? {})">As last time</ElButton>
      <ElButton size="small" @click="fill(baseline)">As baseline</ElButton>
      <ElButton size="small" :disabled="!others" @click="rest">
        All others as baseline
        <span class="keys">a</span>
      </ElButton>
      <ElButton v-if="likely.length" size="small" @click="catalogue = !catalogue">
        {{ catalogue ? 'Likely losses first' : 'In the catalogue’s order' }}
      </ElButton>
      <ElButton v-if="assumed.size" size="small" type="primary" @click="assumed.clear()">
        I saw all {{ assumed.size }} of these: count them
      </ElButton>
    </p>
    <p v-if="asking" class="ask" role="alert">
      {{ others }} others showed what they showed before opening, and you saw it?
      <ElButton size="small" type="primary" @click="rest">
        Yes, they count
        <span class="keys">a</span>
      </ElButton>
      <ElButton size="small" @click="asking = false">No</ElButton>
    </p>
    <p v-if="assumed.size" class="look">
      {{ assumed.size }} checks are filled in and hollow: they count for nothing until you confirm that you saw them.
    </p>
    <table>
      <tbody>
        <template v-for="(c, i) in rows" :key="c.id">
          <tr>
            <td>{{ c.name }}</td>
            <td :data-check="i">
              <ResultCell
                :result="results[c.mark]"
                :assumed="assumed.has(c.mark)"
                :label="c.name"
                type="button"
                @set="(r) => mark(c.mark, r)"
                @move="(by) => move(i, by)"
              />
            </td>
          </tr>
          <tr v-if="told(c.mark)">
            <td colspan="2" class="told">
              <div>
                <ElAutocomplete
                  v-model="of(c.mark).words"
                  :fetch-suggestions="words"
                  :teleported="false"
                  size="small"
                  maxlength="120"
                  placeholder="what it looked like"
                  :aria-label="`${c.name}: what it looked like`"
                  clearable
                />
                <ElInputNumber
                  v-model="of(c.mark).value"
                  size="small"
                  :controls="false"
                  placeholder="measured"
                  :aria-label="`${c.name}: measured value`"
                />
                <ElSelect
                  v-model="of(c.mark).unit"
                  :teleported="false"
                  size="small"
                  placeholder="unit"
                  :aria-label="`${c.name}: unit`"
                  clearable
                >
                  <ElOption v-for="u in trade.units" :key="u" :value="u" :label="u" />
                </ElSelect>
              </div>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p class="quiet">
      <span class="keys">p</span>
      pass
      <span class="keys">l</span>
      lost
      <span class="keys">w</span>
      weak
      <span class="keys">s</span>
      skipped
      <span class="keys">d</span>
      dark, arrows move,
      <span class="keys">r</span>
      records it.
    </p>
  </section>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin-bottom: 6px;
}
td {
  padding: 2px 6px 2px 0;
  font-size: 14px;
  vertical-align: middle;
}
table {
  width: 100%;
}
.told > div {
  display: flex;
  gap: 6px;
  padding: 0 0 6px 14px;
}
.told :deep(.el-autocomplete) {
  flex: 1 1 120px;
}
.told :deep(.el-input-number) {
  width: 84px;
}
.told :deep(.el-select) {
  width: 76px;
}
.ask {
  background: var(--amber-wash);
  padding: 8px 10px;
}
</style>
