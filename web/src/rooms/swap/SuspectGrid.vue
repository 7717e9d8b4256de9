<script setup lang="ts">
import type { Schemas } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import VerdictMark from '../../shared/VerdictMark.vue'
import { eyeWords, verdictWords } from '../../shared/words'

/** Slots and states down, checks across: a verdict and how sure it is in every cell. */
defineProps<{ room: Schemas['SwapRoom']; chosen?: Schemas['LedgerVerdict'] }>()
defineEmits<{ choose: [verdict: Schemas['LedgerVerdict']] }>()
</script>

<template>
  <p v-if="!room.rows.length" class="quiet">
    Nothing is known yet. Exchange the main boards of the two phones first: every other part then is a stranger at once,
    and one round shows all that can be lost.
  </p>
  <div v-else class="scroll" tabindex="0" role="region" aria-label="Suspects">
    <table class="grid">
      <thead>
        <tr>
          <th>Part, state</th>
          <th v-for="c in room.checks" :key="c.id" class="check">
            <span>{{ c.mark.replaceAll('-', ' ').replace('notice: ', '! ') }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in room.rows" :key="r.part + r.state">
          <th scope="row">
            {{ r.part }}
            <small v-if="r.state !== 'stranger'" class="quiet">{{ r.state }}</small>
            <VerdictMark :mark="r.mark" short />
          </th>
          <td v-for="v in r.verdicts" :key="v.check">
            <button
              class="bare cell"
              :class="{
                here: chosen?.slot === v.slot && chosen.check === v.check && chosen.state === v.state,
                loses: v.mark === 'loses',
              }"
              :aria-label="`${r.part}, ${r.state}, ${v.check}: ${verdictWords(v.mark)}, ${eyeWords[v.eye]}`"
              @click="$emit('choose', v)"
            >
              <VerdictMark :mark="v.mark" drawn />
              <EvidenceEye :state="v.eye" :size="16" drawn />
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="legend quiet">
    <VerdictMark
      v-for="m in ['works', 'works with notice', 'works once calibrated', 'loses', 'dead', 'not settled', 'untested']"
      :key="m"
      :mark="m"
    />
  </p>
</template>

<style scoped>
.grid th {
  padding: 2px 8px 2px 0;
  color: var(--ink);
  font-weight: 400;
  font-size: 14px;
  white-space: nowrap;
}
.grid tbody th,
.grid thead th:first-child {
  position: sticky;
  z-index: 2;
  left: 0;
  background: var(--ground);
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
  width: 28px;
  min-height: 30px;
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
