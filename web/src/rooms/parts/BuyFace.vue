<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton, ElCheckbox, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import DataTable from '../../shared/DataTable.vue'
import { first, typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import type { Column } from '../../shared/table'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import { useUndo } from '../../shared/useUndo'
import BasketOf from './BasketOf.vue'
import BuildDialog from './BuildDialog.vue'
import DeskForm from './DeskForm.vue'
import OrdersUnderWay from './OrdersUnderWay.vue'
import { kinds } from './rows'

/** Needs, the cheapest basket for those that are chosen, and what is on order: one page, in this order. */
const props = defineProps<{ desk: Schemas['DeskDesk']; writes: boolean }>()
const emit = defineEmits<{ order: [id: string] }>()
type Need = Schemas['NeedsNeed']

const weeks = ref(0)
const goal = ref(0)
const { room, error } = useRoom(
  () => ['needs', weeks.value, goal.value],
  () => api.GET('/api/needs', { params: { query: { weeks: weeks.value, goal: goal.value } } }),
)
const { room: orders } = useRoom(['orders'], () => api.GET('/api/orders'))

/** What has an offer is chosen until somebody says otherwise. */
const chosen = ref<string[]>([])
const met = new Set<string>()
watch(
  () => room.value?.needs,
  (list) => {
    for (const n of list ?? []) {
      if (!met.has(n.id) && n.offers) chosen.value = [...chosen.value, n.id]
      met.add(n.id)
    }
    chosen.value = chosen.value.filter((id) => list?.some((n) => n.id === id))
  },
  { immediate: true },
)
const pieces = reactive<Record<string, number>>({})
const wish = reactive({
  used: true,
  copies: false,
  missing: 'exclude' as 'exclude' | 'price' | 'warn',
  show: '',
  deadline: undefined as number | undefined,
  sellers: undefined as number | undefined,
  stated: undefined as number | undefined,
})
const overrides = ref<Schemas['NeedsOverride'][]>([])
const asked = computed<Schemas['NeedsWish']>(() => ({
  needs: (room.value?.needs ?? [])
    .filter((n) => chosen.value.includes(n.id))
    .map((n) => ({ id: n.id, quantity: pieces[n.id] ?? 0 })),
  weeks: weeks.value,
  goal: goal.value,
  new: !wish.used,
  copies: wish.copies,
  missing: wish.missing,
  show: wish.show,
  deadline: wish.deadline ?? 0,
  max_sellers: wish.sellers ?? 0,
  stated: wish.stated ?? 0,
  stated_in: wish.show,
  overrides: overrides.value,
}))
const {
  room: basket,
  error: unbought,
  pending,
} = useRoom(
  () => ['needs-basket', JSON.stringify(asked.value)],
  () => api.POST('/api/needs/basket', { body: asked.value }),
  { enabled: () => asked.value.needs.length > 0 },
)

const columns: Column<Need>[] = [
  { id: 'part', title: 'Part', value: (n) => n.name },
  { id: 'for', title: 'For', value: (n) => n.models.map((m) => m.name).join(', '), few: true, file: true },
  { id: 'why', title: 'Why', value: (n) => n.why, file: true },
  { id: 'pieces', title: 'Pieces', kind: 'number', value: (n) => pieces[n.id] ?? n.quantity },
]
const add = ref(false)
const build = ref(false)
const { problem, busy, mine, theirs, save } = useChange()
const { gone, offer, undo } = useUndo(async (list: Need[]) => {
  for (const n of list) await save((v, header) => kinds.need.restore(header, n.row!, v ?? (n.version ?? 0) + 1))
})
async function drop(rows: readonly Need[]) {
  const away: Need[] = []
  for (const n of rows.filter((x) => x.row)) {
    if (!(await save((v, header) => kinds.need.remove(header, n.row!, v ?? n.version ?? 1)))) break
    away.push(n)
  }
  if (away.length) offer(away)
}

/** Orders are made of the basket; what is better asked first is asked here. */
const sure = ref<('again' | 'old')[]>([])
const question = computed(() =>
  problem.value?.status === 422 && problem.value.errors?.some((e) => e.location === 'body.sure')
    ? problem.value.errors.find((e) => e.location === 'body.sure')
    : undefined,
)
const made = ref<Schemas['PurchaseOrder'][]>()
async function order() {
  const b = basket.value
  if (!b?.sellers.length || !props.writes || busy.value) return
  const jobs = [...new Set((room.value?.needs ?? []).filter((n) => chosen.value.includes(n.id)).flatMap((n) => n.jobs))]
  const done = await save((_, header) =>
    take(
      api.POST('/api/orders', {
        params: { header },
        body: {
          lines: b.sellers.flatMap((s) =>
            s.lines.map((l) => ({ offer_id: l.offer_id, quantity: l.packs, note: (l.note ?? '').slice(0, 200) })),
          ),
          for_jobs: jobs.join(', ').slice(0, 300),
          sure: sure.value,
        },
      }),
    ),
  )
  if (!done) return
  made.value = done.orders
  sure.value = []
  overrides.value = []
}
async function certain() {
  sure.value = question.value?.message?.includes('again') ? [...sure.value, 'again'] : [...sure.value, 'old']
  await order()
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || e.ctrlKey || e.metaKey || e.altKey) return
  const ticked = e.key === 'Enter' && e.target instanceof HTMLInputElement && e.target.type === 'checkbox'
  if (first(e) || ticked) void order()
  else if (e.key === 'a' && props.writes) add.value = true
  else return
  e.preventDefault()
})
const sentence = computed(() => (asked.value.needs.length && basket.value ? basket.value.answer : room.value?.answer))
</script>

<template>
  <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
  <AnswerLine v-else class="answer" :sentence="sentence" />
  <div v-if="room" class="three">
    <section id="needs">
      <h2>
        Needs
        <span class="fig">{{ room.needs.length }}</span>
      </h2>
      <div class="row no-print wishes">
        <ElSelect v-model="weeks" :teleported="false" aria-label="How far ahead" style="width: 150px">
          <ElOption :value="0" label="now" />
          <ElOption :value="4.345" label="next month" />
          <ElOption :value="8.69" label="two months" />
          <ElOption :value="13" label="three months" />
        </ElSelect>
        <ElSelect v-model="goal" :teleported="false" aria-label="Jobs served from the shelf" style="width: 170px">
          <ElOption :value="0" :label="`${Math.round(100 * room.goal)} of 100 served`" />
          <ElOption :value="0.8" label="80 of 100 served" />
          <ElOption :value="0.9" label="90 of 100 served" />
          <ElOption :value="0.98" label="98 of 100 served" />
        </ElSelect>
      </div>
      <p v-if="gone" class="undo" role="status">
        {{ gone.length > 1 ? `${gone.length} are off the list.` : 'Off the list.' }}
        <ElButton @click="undo">Undo</ElButton>
      </p>
      <DataTable
        v-model:chosen="chosen"
        name="needs"
        caption="Needs"
        :rows="room.needs"
        :columns="columns"
        :row-key="(n) => n.id"
        :look="(n) => !n.offers"
        select
        empty="Nothing is short. Add a part, or the parts of a whole build."
      >
        <template #part="{ row: n }">
          <b>{{ n.name }}</b>
          <span class="for">{{ n.models.map((m) => m.name).join(', ') }}</span>
          <div class="quiet">{{ n.why }}{{ n.offers ? '' : '; no offer' }}</div>
        </template>
        <template #pieces="{ row: n }">
          <ElInputNumber
            :model-value="pieces[n.id] ?? n.quantity"
            :min="1"
            :max="1000"
            :controls="false"
            :aria-label="`Pieces: ${n.name}, ${n.models[0]?.name}`"
            class="few"
            @update:model-value="pieces[n.id] = $event ?? n.quantity"
          />
        </template>
        <template v-if="writes" #acts="{ rows }">
          <ElButton v-if="rows.some((n) => n.row)" size="small" @click="drop(rows)">
            Take {{ rows.filter((n) => n.row).length }} off the list
          </ElButton>
        </template>
      </DataTable>
      <div v-if="writes" class="row no-print">
        <ElButton @click="add = true">
          Add a part
          <kbd>a</kbd>
        </ElButton>
        <ElButton @click="build = true">A whole build</ElButton>
      </div>
    </section>
    <section id="basket">
      <h2>
        Basket
        <small class="quiet">{{ basket?.proven ? 'proven the cheapest' : basket?.gap }}</small>
      </h2>
      <div class="row no-print wishes">
        <ElCheckbox v-model="wish.used" label="used too" />
        <ElCheckbox v-model="wish.copies" label="copies too" />
        <ElSelect
          v-model="wish.missing"
          :teleported="false"
          aria-label="Pieces that lose functions"
          style="width: 210px"
        >
          <ElOption value="exclude" label="none that loses functions" />
          <ElOption value="price" label="lost functions are priced" />
          <ElOption value="warn" label="lost functions are named" />
        </ElSelect>
        <label class="row">
          days
          <ElInputNumber
            v-model="wish.deadline"
            :min="1"
            :max="365"
            :controls="false"
            aria-label="Within days"
            class="few"
          />
        </label>
        <label class="row">
          sellers
          <ElInputNumber
            v-model="wish.sellers"
            :min="1"
            :max="20"
            :controls="false"
            aria-label="Sellers at most"
            class="few"
          />
        </label>
        <label class="row">
          quote
          <ElInputNumber
            v-model="wish.stated"
            :min="0"
            :max="10000000"
            :controls="false"
            :aria-label="`Seller’s quote, ${wish.show || room.currency}`"
            class="few"
          />
        </label>
      </div>
      <div v-if="unbought" class="danger" role="alert">{{ unbought.message }}</div>
      <p v-else-if="!asked.needs.length" class="quiet">
        Choose what is needed: the cheapest way to buy it stands here.
      </p>
      <p v-else-if="!basket && pending" class="quiet">Weighing the offers …</p>
      <BasketOf
        v-else-if="basket"
        v-model:overrides="overrides"
        v-model:show="wish.show"
        :basket="basket"
        :writes="writes"
      />
      <template v-if="basket?.sellers.length && asked.needs.length && writes">
        <p v-if="question" class="ask" role="alertdialog" aria-label="Before it is ordered">
          {{ question.value }}
          <ElButton type="primary" :loading="busy" @click="certain">Order it all the same</ElButton>
        </p>
        <ProblemNote v-else :problem="problem" :mine="mine" @theirs="theirs" />
        <p v-if="made" role="status">
          Made:
          <template v-for="(o, i) in made" :key="o.id">
            {{ i ? ', ' : '' }}
            <button class="bare link" @click="emit('order', o.id)">order {{ o.number }}</button>
          </template>
          . Nothing was sent: look at each, and send it.
        </p>
        <ElButton type="primary" :loading="busy" @click="order">
          Make {{ basket.sellers.length }} {{ basket.sellers.length === 1 ? 'order' : 'orders' }}
          <kbd>Enter</kbd>
        </ElButton>
      </template>
    </section>
    <OrdersUnderWay v-if="orders" :room="orders" @open="emit('order', $event)" />
  </div>
  <DeskForm v-if="add" kind="need" :desk="desk" :start="{ quantity: 1 }" @close="add = false" />
  <BuildDialog v-if="build" @close="build = false" />
</template>

<style scoped>
.three {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: minmax(0, 400fr) minmax(0, 460fr) minmax(0, 320fr);
  gap: 0 28px;
}
h2 {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: baseline;
  border-bottom: 1px solid var(--ink);
  padding-bottom: 6px;
}
h2 .fig {
  color: var(--pine);
}
h2 small {
  font-size: 14px;
  font-weight: 400;
}
.three > section {
  margin-bottom: 24px;
}
.wishes {
  margin: 8px 0 10px;
  gap: 4px 14px;
}
.few {
  width: 62px;
}
.for {
  font-weight: 400;
  margin-left: 6px;
}
.quiet {
  font-size: 14px;
  font-weight: 400;
}
.undo,
.ask {
  background: var(--amber-wash);
  padding: 8px 12px;
}
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
}
kbd {
  margin-left: 8px;
}
@media (max-width: 1100px) {
  .three {
    grid-template-columns: 1fr 1fr;
  }
}
@media (max-width: 720px) {
  .three {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
