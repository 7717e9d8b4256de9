<script setup lang="ts">
import type { Schemas } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { say } from '../../words'
import FitMark from './FitMark.vue'

/** One piece in one phone: how far it gets, how sure that is, how often it was tried. */
const props = defineProps<{
  pair: Schemas['FitPair']
  own: boolean
  settled?: string
  label: string
  chosen: boolean
}>()
const emit = defineEmits<{ choose: [] }>()
const tried = () => props.pair.reached.n
const words = () =>
  props.own
    ? 'its own'
    : tried()
      ? `${say('level', props.pair.level)}, ${say('eye', props.pair.grade)}, ${tried()} fittings`
      : props.settled
        ? `${say('level', props.pair.level)}, settled by ${props.settled}`
        : 'untested'
</script>

<template>
  <button
    class="bare cell"
    :class="{ geometry: settled === 'geometry', hollow: !tried() && !own, chosen }"
    :aria-pressed="chosen"
    @click="emit('choose')"
  >
    <span class="hidden">{{ `${label}: ${words()}. ` }}</span>
    <template v-if="own && !tried()"><span class="quiet">its own</span></template>
    <template v-else-if="tried() || settled">
      <FitMark :level="pair.level" />
      <span class="row small">
        <EvidenceEye :state="tried() ? pair.grade : 'half'" :size="18" drawn />
        <span class="fig">{{ tried() ? `n ${tried()}` : settled }}</span>
      </span>
    </template>
    <span v-else class="quiet">untested</span>
  </button>
</template>

<style scoped>
.cell {
  position: relative;
  display: flex;
  flex-direction: column;
  gap: 2px;
  width: 100%;
  min-height: 54px;
  height: 100%;
  padding: 6px 8px;
  border: 1px solid var(--line);
  font-size: 14px;
}
.cell.chosen {
  border: 2px solid var(--amber-fill);
  padding: 5px 7px;
}
.cell.geometry {
  background: repeating-linear-gradient(135deg, transparent 0 6px, var(--line) 6px 7px);
}
.cell.hollow {
  border-style: dashed;
  color: var(--quiet);
}
.small {
  gap: 5px;
}
</style>
