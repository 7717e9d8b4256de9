<script setup lang="ts">
import { ref } from 'vue'

import { api, type Schemas } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { minutes } from '../../shared/format'
import VerdictMark from '../../shared/VerdictMark.vue'
import { useRoom } from '../../shared/useRoom'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** The swaps in plain language, for the hand-over: done, shown, not shown; and each module, repair or replace. */
const props = defineProps<{ room: Schemas['SwapRoom'] }>()
const rate = ref(45)
const { room: account } = useRoom(
  () => ['account', props.room.study.id, rate.value],
  () =>
    api.GET('/api/studies/{id}/swap/account', {
      params: { path: { id: props.room.study.id }, query: { rate: Math.round(rate.value * 100) } },
    }),
)
const columns: Column<Schemas['SwapAccount']['modules'][number]>[] = [
  { id: 'part', title: 'Module', value: (m) => `${m.part}${m.whose ? `, ${m.whose}` : ''}` },
  { id: 'advice', title: 'Advice', value: (m) => `${m.advice}: ${m.why}` },
  { id: 'other', title: 'In another phone', value: (m) => m.mark },
  {
    id: 'minutes',
    title: 'Whole repair',
    kind: 'minutes',
    value: (m) => m.minutes || undefined,
    text: (m) => (m.minutes ? minutes(m.minutes) : ''),
  },
]
</script>

<template>
  <template v-if="account">
    <section>
      <h2>Done</h2>
      <p v-if="!account.done.length" class="quiet">No swap was made yet.</p>
      <ul class="plain">
        <li v-for="d in account.done" :key="d">{{ d }}</li>
      </ul>
    </section>
    <section>
      <h2>Shown on build {{ account.build || 'not recorded' }}</h2>
      <p v-if="!account.shown.length" class="quiet">Nothing yet.</p>
      <ul class="plain">
        <li v-for="d in account.shown" :key="d">{{ d }}</li>
      </ul>
    </section>
    <section>
      <h2>Not shown</h2>
      <ul class="plain">
        <li v-for="d in account.not_shown" :key="d">{{ d }}</li>
      </ul>
    </section>
    <section v-if="account.modules.length">
      <h2>Repair or replace</h2>
      <label class="quiet rate no-print">
        A bench hour costs
        <input v-model.number="rate" type="number" min="0" max="100000" class="fig" />
      </label>
      <DataTable
        name="modules"
        caption="Repair or replace"
        :rows="account.modules"
        :columns="columns"
        :row-key="(m) => `${m.part} ${m.whose}`"
      >
        <template #part="{ row: m }">
          {{ m.part }}
          <small v-if="m.whose">{{ m.whose }}</small>
        </template>
        <template #advice="{ row: m }">
          <b>{{ m.advice }}</b>
          <small class="quiet">{{ m.why }}{{ m.odds ? `; on the way ${m.odds}` : '' }}</small>
        </template>
        <template #other="{ row: m }">
          <span class="row">
            <EvidenceEye :state="m.eye" :size="18" />
            <VerdictMark :mark="m.mark" />
          </span>
        </template>
      </DataTable>
    </section>
  </template>
</template>

<style scoped>
small {
  display: block;
}
.rate input {
  width: 90px;
  padding: 4px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
}
</style>
