<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { minutes } from '../../shared/format'
import type { Act } from './useRepair'

/** A whole repair as one bar: what is done is full, what is being done amber, waits are hatched; a stroke parts the way in. */
const props = defineProps<{ acts: Act[]; done: Set<string>; now?: string; way?: Schemas['ModelWay'] }>()
const into = computed(() => props.acts.filter((a) => a.phase === 'in'))
const rest = computed(() => props.acts.filter((a) => a.phase !== 'in'))
/** Long acts are longer, but a short one can still be seen. */
const width = (a: Act) => Math.max(6, Math.sqrt(a.seconds ?? 1) * 3)
const place = computed(() => props.acts.findIndex((a) => a.key === props.now) + 1)
</script>

<template>
  <div class="whole">
    <div
      class="bar"
      role="img"
      :aria-label="`${acts.filter((a) => done.has(a.key)).length} of ${acts.length} acts are done`"
    >
      <i
        v-for="a in acts"
        :key="a.key"
        :title="a.text"
        :class="{
          done: done.has(a.key),
          now: a.key === now,
          wait: a.kind === 'wait',
          first: a.key === rest[0]?.key,
        }"
        :style="{ flexGrow: width(a) }"
      />
    </div>
    <p v-if="way" class="says">
      in: {{ into.length }} acts, {{ minutes(Math.round(way.elapsed_minutes)) }} | way back and checks:
      {{ rest.length }} acts,
      {{ minutes(Math.round(way.closed_minutes) - Math.round(way.elapsed_minutes)) }}
    </p>
    <b v-if="place" class="fig">{{ place }} of {{ acts.length }}</b>
  </div>
</template>

<style scoped>
.whole {
  flex: 1;
  min-width: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  column-gap: 20px;
  align-items: center;
}
.bar {
  display: flex;
  gap: 2px;
  height: 14px;
}
i {
  flex: 1 1 4px;
  border: 1px solid var(--strong-line);
}
i.wait {
  background: repeating-linear-gradient(135deg, var(--strong-line) 0 1px, transparent 1px 5px);
}
i.done {
  background-color: var(--pine);
  border-color: var(--pine);
}
i.now {
  background: var(--amber-fill);
  border-color: var(--amber-fill);
}
i.first {
  border-left: 3px solid var(--ink);
}
.says {
  grid-row: 2;
  font-size: 14px;
  color: var(--quiet);
  margin: 2px 0 0;
}
.fig {
  font-size: 20px;
  grid-row: 1 / 3;
  grid-column: 2;
}
@media (max-width: 600px) {
  .says {
    display: none;
  }
  .fig {
    font-size: 16px;
    grid-row: 1;
  }
}
</style>
