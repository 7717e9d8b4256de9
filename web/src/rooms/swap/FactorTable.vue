<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
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
const slots = ref([
  mates.value[0]?.[0] ?? props.room.slots[0]?.id ?? '',
  mates.value[0]?.[1] ?? props.room.slots[1]?.id ?? '',
  'none',
])
const check = ref(props.room.reports.find((r) => r.lost > 0)?.check.mark ?? props.room.checks[0]?.mark ?? '')
const parts = computed(() => slots.value.filter((s) => s && s !== 'none'))
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
    <h2>Pairs together and apart</h2>
    <p class="row pick">
      <ElSelect
        v-for="i in 3"
        :key="i"
        :model-value="slots[i - 1]"
        :teleported="false"
        size="small"
        :aria-label="`Part ${i}`"
        style="width: 150px"
        @update:model-value="(v: string) => (slots[i - 1] = v)"
      >
        <ElOption v-if="i === 3" value="none" label="no third" />
        <ElOption
          v-for="s in room.slots"
          :key="s.id"
          :value="s.id"
          :label="s.name"
          :disabled="parts.includes(s.id) && s.id !== slots[i - 1]"
        />
      </ElSelect>
      <ElSelect
        v-model="check"
        :teleported="false"
        filterable
        size="small"
        aria-label="Check of the table"
        style="width: 220px"
      >
        <ElOption v-for="c in room.checks" :key="c.mark" :value="c.mark" :label="c.name" />
      </ElSelect>
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
          <td v-for="(o, k) in c.other" :key="k">{{ o ? 'other' : c.adopted[k] ? 'adopted' : 'own' }}</td>
          <td>
            <template v-if="c.trials.length">
              <span :class="{ look: c.lost }">
                {{ c.lost ? `lost ${c.lost} of ${c.lost + c.passed}` : `passed ${c.passed}` }}
              </span>
              {{ ' ' }}
              <span class="quiet">
                {{ c.trials.map(trialName).join(', ')
                }}{{ c.company.length ? `; other parts were exchanged too in ${c.company.join(', ')}` : '' }}
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
</style>
