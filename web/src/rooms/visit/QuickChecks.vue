<script setup lang="ts">
import { computed } from 'vue'

/** Eight quick checks, as the phone is when it comes in: works, or does not; untouched ones were not tried. */
const props = defineProps<{ names?: { mark: string; name: string }[] }>()
const read = defineModel<Record<string, 'pass' | 'lost'>>({ required: true })
const usual = [
  { mark: 'boot', name: 'Starts' },
  { mark: 'touch', name: 'Touch' },
  { mark: 'charging', name: 'Charges' },
  { mark: 'loudspeaker', name: 'Loudspeaker' },
  { mark: 'microphones', name: 'Microphones' },
  { mark: 'front-camera', name: 'Front camera' },
  { mark: 'rear-camera', name: 'Rear camera' },
  { mark: 'button-power', name: 'Power button' },
]
/** The checks that this model has, by their short names. */
const shown = computed(() => (props.names ? usual.filter((u) => props.names!.some((n) => n.mark === u.mark)) : usual))
function set(mark: string, result: 'pass' | 'lost') {
  const now = { ...read.value }
  if (now[mark] === result) delete now[mark]
  else now[mark] = result
  read.value = now
}
const all = () => (read.value = { ...Object.fromEntries(usual.map((c) => [c.mark, 'pass' as const])), ...read.value })
</script>

<template>
  <fieldset class="quick">
    <legend>
      How it works now
      <button type="button" class="bare link" @click="all">the rest works</button>
    </legend>
    <div v-for="c in shown" :key="c.mark" class="check" role="group" :aria-label="c.name">
      <span>{{ c.name }}</span>
      <button
        type="button"
        :class="{ on: read[c.mark] === 'pass' }"
        :aria-pressed="read[c.mark] === 'pass'"
        @click="set(c.mark, 'pass')"
      >
        works
      </button>
      <button
        type="button"
        :class="{ bad: read[c.mark] === 'lost' }"
        :aria-pressed="read[c.mark] === 'lost'"
        @click="set(c.mark, 'lost')"
      >
        does not
      </button>
    </div>
  </fieldset>
</template>

<style scoped>
.quick {
  border: 0;
  padding: 0;
  margin: 0 0 14px;
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  column-gap: 24px;
}
legend {
  font-weight: 600;
  padding: 0 0 4px;
}
legend button {
  margin-left: 14px;
  font-weight: 400;
  min-height: 30px;
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 44px;
  border-bottom: 1px solid var(--line);
}
.check span {
  flex: 1;
}
.check button {
  font: inherit;
  min-height: 36px;
  padding: 2px 10px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
  cursor: pointer;
}
.check button.on {
  background: var(--pine);
  color: var(--on-pine);
}
.check button.bad {
  background: var(--amber-wash);
  border-color: var(--amber-fill);
}
@media (max-width: 600px) {
  .quick {
    grid-template-columns: 1fr;
  }
  .check button {
    min-height: 44px;
  }
}
</style>
