<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { minutes, percent } from '../../shared/format'

/** The end of a dry run: verdict by verdict, where the reasoning slipped, and the advised sequence on the same phones. */
defineProps<{ room: Schemas['DryrunView']; words: (explanation: string) => string }>()
</script>

<template>
  <section id="report">
    <h2>Your verdicts, and the truth</h2>
    <table>
      <thead>
        <tr>
          <th>Check</th>
          <th>You said</th>
          <th>It was</th>
          <th>Judged</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="v in room.report!.verdicts" :key="v.check">
          <td>{{ v.check }}</td>
          <td>{{ v.done ? words(v.committed ?? '') : 'nothing committed' }}</td>
          <td>{{ v.truth.length ? v.truth.map(words).join('; ') : 'nothing' }}</td>
          <td>
            <b :class="{ danger: v.judged === 'wrong', look: v.judged === 'unproven' }">{{ v.judged }}</b>
          </td>
        </tr>
      </tbody>
    </table>
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
