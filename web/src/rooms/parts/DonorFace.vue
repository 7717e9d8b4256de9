<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive, ref, watch } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { percent } from '../../shared/format'
import { money } from '../../shared/money'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** What a wreck is worth before it is opened, and what to take out of it. */
const props = defineProps<{ model: string; writes: boolean }>()
const good = ref<string[]>([])
const bad = ref<string[]>([])
const lock = ref<'free' | 'locked' | 'unknown'>('unknown')
const power = ref<'unknown' | 'starts' | 'dead'>('unknown')
const damage = ref<'glass' | 'drop' | 'liquid' | 'none'>('glass')
const { room, error } = useRoom(
  () => ['donor', props.model, lock.value, power.value, damage.value, good.value, bad.value],
  () =>
    api.GET('/api/models/{id}/donor', {
      params: {
        path: { id: props.model },
        query: { lock: lock.value, power: power.value, damage: damage.value, good: good.value, bad: bad.value },
      },
    }),
  { enabled: () => Boolean(props.model) },
)
watch(
  () => props.model,
  () => ((good.value = []), (bad.value = [])),
)
/** What was seen once it was open: nothing yet, good, bad, in turn. */
function see(id: string) {
  if (good.value.includes(id)) {
    good.value = good.value.filter((x) => x !== id)
    bad.value = [...bad.value, id]
  } else if (bad.value.includes(id)) bad.value = bad.value.filter((x) => x !== id)
  else good.value = [...good.value, id]
}
/** Pieces that were taken out lie in stock, with where they came from; a cell only until it was inspected. */
const kept = reactive({ origin: '', place: '' })
const stored = ref<string[]>([])
const { problem, mine, theirs, save } = useChange()
const keep = (p: Schemas['PartsDonorPart']) =>
  save((_, header) =>
    take(
      api.POST('/api/shelves', {
        params: { header },
        body: {
          id: newId(),
          for_model_id: props.model,
          item: p.item,
          grade: 'used',
          quantity: 1,
          place: kept.place.trim(),
          origin: kept.origin.trim(),
          quarantine: p.item === 'battery' ? 'salvaged battery: not inspected yet' : '',
        },
      }),
    ).then((row) => {
      stored.value = [...stored.value, p.part_id]
      return row
    }),
  )
const columns: Column<Schemas['PartsDonorPart']>[] = [
  { id: 'part', title: 'Part', value: (p) => p.part },
  {
    id: 'value',
    title: 'Worth if good',
    kind: 'money',
    value: (p) => p.value,
    text: (p) => money(p.value, room.value?.currency ?? ''),
  },
  { id: 'from', title: 'Why', value: (p) => p.from },
  { id: 'good', title: 'Good in', kind: 'number', value: (p) => p.good, text: (p) => percent(p.good) },
  {
    id: 'worth',
    title: 'So counts',
    kind: 'money',
    value: (p) => p.worth,
    text: (p) => money(Math.round(p.worth), room.value?.currency ?? ''),
  },
  { id: 'do', title: 'Do', value: (p) => (p.take ? 'take' : 'leave'), few: true },
  { id: 'seen', title: 'Once it is open', value: (p) => p.seen || 'not seen' },
]
const heat = (d: Schemas['PartsBuyBack']) =>
  `It is worth ${money(d.worth, room.value?.currency ?? '')}. A minute saved by more heat pays only while it marks fewer than ` +
  `${(1000 * d.per_minute).toFixed(1)} of 1,000 panels` +
  (d.n
    ? `; counted are ${d.k} of ${d.n} by ${d.method}, at most ${percent(d.high)}.`
    : '; nobody has counted yet how many heat marks.')
const locks = { unknown: 'lock not known', free: 'no lock', locked: 'locked' } as const
const powers = { unknown: 'power not tried', starts: 'it starts', dead: 'it does not start' } as const
const damages = { glass: 'broken glass', drop: 'dropped, dead', liquid: 'liquid', none: 'whole' } as const
</script>

<template>
  <h1 v-if="!model" class="answer ask">For which model is a donor offered?</h1>
  <div v-else-if="error" class="answer" role="alert">{{ error.message }}</div>
  <AnswerLine v-else class="answer" :sentence="room?.answer" />
  <div class="stage">
    <div v-if="model" class="row no-print asked">
      <ElSelect v-model="lock" :teleported="false" aria-label="Lock" class="choice">
        <ElOption v-for="(w, k) in locks" :key="k" :value="k" :label="w" />
      </ElSelect>
      <ElSelect v-model="power" :teleported="false" aria-label="Does it start" class="choice">
        <ElOption v-for="(w, k) in powers" :key="k" :value="k" :label="w" />
      </ElSelect>
      <ElSelect v-model="damage" :teleported="false" aria-label="What happened to it" class="choice">
        <ElOption v-for="(w, k) in damages" :key="k" :value="k" :label="w" />
      </ElSelect>
    </div>
    <section v-if="room?.parts.length" id="donor">
      <h2>What to take out, in this order</h2>
      <DataTable
        name="donor"
        caption="What to take out"
        :rows="room.parts"
        :columns="columns"
        :row-key="(p) => p.part_id"
      >
        <template #seen="{ row: p }">
          <div class="row">
            <ElButton
              size="small"
              :class="{ danger: p.seen === 'bad' }"
              :aria-label="`${p.part}: ${p.seen || 'not seen'}`"
              @click="see(p.part_id)"
            >
              {{ p.seen || 'not seen' }}
            </ElButton>
            <span v-if="stored.includes(p.part_id)" class="quiet">in stock</span>
            <ElButton
              v-else-if="writes && p.item && p.seen === 'good'"
              size="small"
              :disabled="!kept.origin.trim() || !kept.place.trim()"
              @click="keep(p)"
            >
              Into stock
            </ElButton>
          </div>
        </template>
      </DataTable>
      <div v-if="writes && good.length" class="row no-print">
        <ElInput v-model="kept.origin" maxlength="120" placeholder="donor 14" aria-label="Which phone" class="choice" />
        <ElInput v-model="kept.place" maxlength="60" placeholder="drawer B2" aria-label="Place" class="choice" />
        <span class="quiet">say both to put good pieces into stock; a battery goes into quarantine</span>
      </div>
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    </section>
  </div>
  <div v-if="room" class="shelf">
    <section v-if="room.display" id="buy-back">
      <h2>A healthy old display</h2>
      <p>{{ heat(room.display) }}</p>
      <p class="quiet">Keep it whole: lower heat and more time are cheaper than a mark on the panel.</p>
    </section>
    <section>
      <h2>Before you pay</h2>
      <p>{{ room.note }}</p>
      <p class="quiet">Chances that a part of a wreck works are house figures; the shared way is paid once.</p>
      <p v-if="room.unpriced.length" class="quiet">Without a price, and not counted: {{ room.unpriced.join(', ') }}.</p>
    </section>
  </div>
</template>

<style scoped>
.choice {
  width: 180px;
}
.asked {
  margin-bottom: 16px;
}
</style>
