<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import TermWord from '../../shared/TermWord.vue'
import VerdictMark from '../../shared/VerdictMark.vue'
import { say } from '../../words'

/**
 * What matters first: the checks that were lost across, the parts that are or were suspected down, a verdict and how sure
 * it is in one mark. The rest is folded into counts that open.
 */
const props = defineProps<{ room: Schemas['SwapRoom']; chosen?: Schemas['LedgerVerdict'] }>()
defineEmits<{ choose: [verdict: Schemas['LedgerVerdict']] }>()
const allChecks = ref(false)
const allParts = ref(false)
const blamed = (v: Schemas['LedgerVerdict']) => v.for.length > 0
const lost = computed(() => {
  const marks = new Set(props.room.rows.flatMap((r) => r.verdicts.filter(blamed).map((v) => v.check)))
  return props.room.checks.filter((c) => marks.has(c.mark))
})
const suspected = computed(() => props.room.rows.filter((r) => r.mark === 'does not seat' || r.verdicts.some(blamed)))
const checks = computed(() => (allChecks.value || !lost.value.length ? props.room.checks : lost.value))
const rows = computed(() => (allParts.value || !suspected.value.length ? props.room.rows : suspected.value))
const shown = computed(() => new Set(checks.value.map((c) => c.mark)))
const marks = [
  'works',
  'works with notice',
  'works once calibrated',
  'loses',
  'intermittent',
  'interaction',
  'dead',
  'does not seat',
]
</script>

<template>
  <p v-if="!room.rows.length" class="quiet">
    Nothing is known yet. Exchange the main boards of the two phones first: then every other part is from another phone
    at once, and one round shows all that can be lost.
  </p>
  <template v-else>
    <p class="row folds">
      <button
        v-if="lost.length && lost.length < room.checks.length"
        class="bare link"
        :aria-expanded="allChecks"
        @click="allChecks = !allChecks"
      >
        {{
          allChecks
            ? `only the ${lost.length} checks that were lost`
            : `${room.checks.length - lost.length} more checks, never lost`
        }}
      </button>
      <button
        v-if="suspected.length && suspected.length < room.rows.length"
        class="bare link"
        :aria-expanded="allParts"
        @click="allParts = !allParts"
      >
        {{
          allParts
            ? `only the ${suspected.length} parts in a lost trial`
            : `${room.rows.length - suspected.length} more parts, in no lost trial`
        }}
      </button>
    </p>
    <div class="scroll" tabindex="0" role="region" aria-label="Parts and lost checks">
      <table class="grid">
        <thead>
          <tr>
            <th>Part, state</th>
            <th v-for="c in checks" :key="c.id" class="check">
              <span>{{ c.mark.replaceAll('-', ' ').replace('notice: ', '! ') }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.part + r.state">
            <th scope="row">
              {{ r.part }}
              <small v-if="r.state !== 'stranger'" class="quiet"><TermWord :word="r.state" /></small>
            </th>
            <td v-for="v in r.verdicts.filter((x) => shown.has(x.check))" :key="v.check">
              <button
                class="bare cell"
                :class="{
                  here: chosen?.slot === v.slot && chosen.check === v.check && chosen.state === v.state,
                  loses: v.mark === 'loses' || v.mark === 'intermittent' || v.mark === 'interaction',
                }"
                :title="`${r.part}, ${say('state', r.state)}, ${v.check}: ${say('verdict', v.mark)}, ${say('eye', v.eye)}`"
                :aria-label="`${r.part}, ${say('state', r.state)}, ${v.check}: ${say('verdict', v.mark)}, ${say('eye', v.eye)}`"
                @click="$emit('choose', v)"
              >
                <VerdictMark :mark="v.mark" :eye="v.eye" drawn />
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="legend quiet">
      <VerdictMark v-for="m in [...marks, 'not settled', 'untested']" :key="m" :mark="m" />
      <span>
        {{ 'two lids: ' }}
        <TermWord word="proven" />
        {{ ' · one: likely · a part is ' }}
        <TermWord word="stranger" />
        {{ ' ' }}
        unless something else stands beside it
      </span>
    </p>
  </template>
</template>

<style scoped>
.grid th {
  padding: 2px 8px 2px 0;
  color: var(--ink);
  font-weight: 400;
  font-size: 14px;
  white-space: nowrap;
}
/* Cells beneath a sticky head must not show through it. */
.grid {
  border-collapse: separate;
  border-spacing: 0;
  width: auto;
}
.grid tbody th,
.grid thead th:first-child {
  position: sticky;
  z-index: 2;
  left: 0;
  background: var(--ground);
  padding-right: 12px;
}
.folds {
  gap: 18px;
  margin-bottom: 4px;
}
.grid tbody th {
  border-bottom: 1px solid var(--line);
}
.check {
  height: 112px;
  vertical-align: bottom;
  padding: 0 !important;
}
.check span {
  display: inline-block;
  writing-mode: vertical-rl;
  transform: rotate(180deg);
  padding: 4px 3px;
}
td {
  padding: 0;
}
.cell {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 1px;
  padding: 3px 0;
  justify-content: center;
  width: 44px;
  min-height: 36px;
}
.cell:hover,
.cell.here {
  background: var(--wash);
}
.cell.here {
  outline: 2px solid var(--pine);
}
.cell.loses {
  background: var(--amber-wash);
}
.legend {
  display: flex;
  gap: 18px;
  flex-wrap: wrap;
  font-size: 14px;
  padding-top: 8px;
}
</style>
