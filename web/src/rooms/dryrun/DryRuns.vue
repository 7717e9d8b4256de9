<script setup lang="ts">
import { ElButton } from 'element-plus'
import { reactive } from 'vue'
import { useRouter } from 'vue-router'

import { api, newId, take } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { minutes } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useFurther } from '../../shared/useFurther'
import { useRoom } from '../../shared/useRoom'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** One's own practices, and the start of a new one: level and seed make the phones, so that a case can be shared. */
const router = useRouter()
const { room, error } = useRoom(['dry-runs'], () => api.GET('/api/dry-runs'))
const {
  all: runs,
  more,
  onward,
  trouble,
} = useFurther(
  room,
  (r) => r.runs,
  (r) => r.more,
  (before) => take(api.GET('/api/dry-runs', { params: { query: { before } } })),
)
const facts = reactive({ level: 0, seed: '' as string | number })
const { problem, mine, theirs, busy, save } = useChange()
async function begin() {
  const id = newId()
  const seed = facts.seed === '' ? Math.floor(Math.random() * 1e6) : Number(facts.seed)
  const made = await save((_, header) =>
    take(api.POST('/api/dry-runs', { params: { header }, body: { id, level: Number(facts.level), seed } })),
  )
  if (made) await router.push({ name: 'dry-run', params: { id } })
}
const columns: Column<(typeof runs.value)[number]>[] = [
  { id: 'level', title: 'Level', value: (r) => room.value?.levels[r.level]?.name, few: true },
  { id: 'seed', title: 'Seed', kind: 'number', value: (r) => r.seed, text: (r) => String(r.seed) },
  {
    id: 'came',
    title: 'Right, wrong, unproven',
    value: (r) => (r.done ? `${r.right}, ${r.wrong}, ${r.unproven}` : 'going on'),
  },
  { id: 'bench', title: 'Bench', kind: 'minutes', value: (r) => r.minutes, text: (r) => minutes(r.minutes) },
  {
    id: 'advised',
    title: 'Advised',
    kind: 'minutes',
    value: (r) => (r.done ? r.advised_minutes : undefined),
    text: (r) => (r.done ? minutes(r.advised_minutes) : ''),
  },
]
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <div v-if="room" class="stage">
      <section id="runs">
        <h2>Your dry runs</h2>
        <DataTable
          name="runs"
          caption="Your dry runs"
          :rows="runs"
          :columns="columns"
          :row-key="(r) => r.id"
          :to="(r) => ({ name: 'dry-run', params: { id: r.id } })"
          empty="None yet. Start one on the right; it takes five minutes and no phone."
        />
        <ElButton v-if="more" class="below" @click="onward">Older ones</ElButton>
        <p v-if="trouble" class="danger" role="alert">{{ trouble }}</p>
      </section>
    </div>
    <div v-if="room" class="shelf">
      <section>
        <h2>A new one</h2>
        <form @submit.prevent="begin">
          <p v-for="l in room.levels" :key="l.level">
            <label>
              <input v-model.number="facts.level" type="radio" name="level" :value="l.level" />
              {{ l.name }}
            </label>
          </p>
          <p>
            <label>
              Seed, to repeat or share a case
              <input v-model="facts.seed" class="fig seed" type="number" min="0" max="4294967295" placeholder="any" />
            </label>
          </p>
          <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
          <ElButton type="primary" native-type="submit" :loading="busy">Start</ElButton>
        </form>
        <p class="quiet">
          Two simulated phones, hidden locks. Exchange, read, put back; commit to what loses each check, or to nothing.
          The clock counts bench minutes; at the end the advised sequence on the same phones stands beside yours.
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.below {
  margin-top: 8px;
}
.seed {
  width: 130px;
  padding: 5px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
}
</style>
