<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { minutes, percent } from '../../shared/format'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** The end of a dry run: verdict by verdict, where the reasoning slipped, and the advised sequence on the same phones. */
const props = defineProps<{ room: Schemas['DryrunView']; words: (explanation: string) => string }>()
type Judged = NonNullable<Schemas['DryrunView']['report']>['verdicts'][number]
const columns: Column<Judged>[] = [
  { id: 'check', title: 'Check', value: (v) => v.check },
  { id: 'said', title: 'You said', value: (v) => (v.done ? props.words(v.committed ?? '') : 'nothing committed') },
  { id: 'was', title: 'It was', value: (v) => (v.truth.length ? v.truth.map(props.words).join('; ') : 'nothing') },
  { id: 'judged', title: 'Judged', value: (v) => v.judged, few: true },
]
</script>

<template>
  <section id="report">
    <h2>Your verdicts, and the truth</h2>
    <DataTable
      name="verdicts"
      caption="Your verdicts"
      :rows="room.report!.verdicts"
      :columns="columns"
      :row-key="(v) => v.check"
    >
      <template #judged="{ row: v }">
        <b :class="{ danger: v.judged === 'wrong', look: v.judged === 'unproven' }">{{ v.judged }}</b>
      </template>
    </DataTable>
  </section>
  <section v-if="room.report!.truths.length">
    <h2>What was hidden, and when your readings told it</h2>
    <ul class="plain">
      <li v-for="t in room.report!.truths" :key="t.check + t.words">
        <b>{{ t.check }}</b>
        : {{ t.words }}.
        <span v-if="t.after">
          It could have been known after {{ t.after }}, minute
          <span class="fig">{{ Math.round(t.minute ?? 0) }}</span>
          .
        </span>
        <span v-else class="look">Your readings never told it ({{ percent(t.sure) }} in the end).</span>
      </li>
    </ul>
  </section>
  <section v-if="room.report!.slips.length">
    <h2>Where the reasoning slipped</h2>
    <ul class="plain">
      <li v-for="s in room.report!.slips" :key="s">{{ s }}</li>
    </ul>
  </section>
  <section>
    <h2>
      The advised sequence on the same phones: {{ minutes(room.report!.advised_minutes) }} against your
      {{ minutes(room.minutes) }}
    </h2>
    <ol class="advised">
      <li v-for="(r, i) in room.report!.advised" :key="i">
        {{ r.words }}
        <span class="quiet fig">{{ minutes(r.minutes) }}</span>
        <span v-if="r.lost.length" class="look">lost: {{ r.lost.join(', ') }}</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
td {
  padding: 4px 8px 4px 0;
  font-size: 15px;
}
.advised {
  margin: 0;
  padding-left: 24px;
}
.advised li {
  padding: 2px 0;
}
</style>
