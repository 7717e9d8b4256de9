<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, type Schemas } from '../../api/client'
import { useRoom } from '../../shared/useRoom'

/** Two or three slots against one check: which combinations of own and other were seen, and which are still empty. */
const props = defineProps<{ room: Schemas['SwapRoom'] }>()
const mates = computed(() => {
  const found: [string, string][] = []
  for (const p of props.room.slots) {
    const m = props.room.slots.find((q) => q.name === p.mate && p.name < q.name)
    if (m) found.push([p.id, m.id])
  }
  return found
})
const first = ref(mates.value[0]?.[0] ?? props.room.slots[0]?.id ?? '')
const second = ref(mates.value[0]?.[1] ?? props.room.slots[1]?.id ?? '')
const third = ref('')
const check = ref(props.room.reports.find((r) => r.lost > 0)?.check.mark ?? props.room.checks[0]?.mark ?? '')
const parts = computed(() => [first.value, second.value, third.value].filter(Boolean))
const { room: table } = useRoom(
  () => ['factors', props.room.study.id, props.room.build, check.value, ...parts.value, props.room.trials.length],
  () =>
    api.GET('/api/studies/{id}/swap/factors', {
      params: {
        path: { id: props.room.study.id },
        query: { build: props.room.build, check: check.value, parts: parts.value },
      },
    }),
  { enabled: () => new Set(parts.value).size === parts.value.length && parts.value.length > 1 },
)
const trialName = (t: string) => {
  const u = props.room.units.find((x) => t === `baseline-${x.id}`)
  return u ? `${u.name} before opening` : t
}
</script>

<template>
  <section>
    <h2>Mates together and apart</h2>
    <p class="row pick">
      <label v-for="(m, i) in [first, second, third]" :key="i">
        <span class="hidden">Slot {{ i + 1 }}</span>
        <select
          :value="m"
          :aria-label="`Slot ${i + 1}`"
          @change="
            (e) => {
              const v = (e.target as HTMLSelectElement).value
              if (i === 0) first = v
              else if (i === 1) second = v
              else third = v
            }
          "
        >
          <option v-if="i === 2" value="">no third</option>
          <option v-for="s in room.slots" :key="s.id" :value="s.id" :disabled="parts.includes(s.id) && s.id !== m">
            {{ s.name }}
          </option>
        </select>
      </label>
      <select v-model="check" aria-label="Check of the table">
        <option v-for="c in room.checks" :key="c.mark" :value="c.mark">{{ c.name }}</option>
      </select>
    </p>
    <table v-if="table">
      <thead>
        <tr>
          <th v-for="s in table.slots" :key="s">{{ s }}</th>
          <th>seen</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(c, i) in table.cells" :key="i" :class="{ empty: !c.trials.length }">
          <td v-for="(o, k) in c.other" :key="k">{{ o ? 'other' : 'own' }}</td>
          <td>
            <template v-if="c.trials.length">
              <span :class="{ look: c.lost }">
                {{ c.lost ? `lost ${c.lost} of ${c.lost + c.passed}` : `passed ${c.passed}` }}
              </span>
              <span class="quiet">
                {{ c.trials.map(trialName).join(', ')
                }}{{ c.company.length ? `; other parts were foreign too in ${c.company.join(', ')}` : '' }}
              </span>
            </template>
            <span v-else class="quiet">empty: never tried</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
td {
  padding: 4px 8px 4px 0;
  font-size: 14px;
}
.empty td {
  border-bottom-style: dashed;
}
select {
  font-size: 14px;
  padding: 4px;
  max-width: 190px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
}
</style>
