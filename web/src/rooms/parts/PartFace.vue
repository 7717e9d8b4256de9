<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { minutes, percent } from '../../shared/format'
import { moment } from '../../shared/locale'
import { money } from '../../shared/money'
import { useRoom } from '../../shared/useRoom'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'
import { say } from '../../words'

/** Everything about a part in one place: who fits, what is lost, price, stock, lots, odds. */
const props = defineProps<{ model: string }>()
const route = useRoute()
const router = useRouter()
const { room: know } = useRoom(
  () => ['model', props.model],
  () => api.GET('/api/models/{id}', { params: { path: { id: props.model } } }),
  { enabled: () => Boolean(props.model) },
)
const parts = computed(() => know.value?.parts ?? [])
const part = computed({
  get: () => {
    const asked = String(route.query.part ?? '')
    return parts.value.some((p) => p.id === asked) ? asked : ''
  },
  set: (id: string) => void router.replace({ query: { ...route.query, part: id || undefined, unit: undefined } }),
})
const { room, error } = useRoom(
  () => ['about', props.model, part.value],
  () => api.GET('/api/models/{id}/about/{part}', { params: { path: { id: props.model, part: part.value } } }),
  { enabled: () => Boolean(props.model && part.value) },
)
/** The piece whose label was read: the part that was built into one phone. */
const unit = computed(() => String(route.query.unit ?? ''))
const { room: piece } = useRoom(
  () => ['piece', unit.value, part.value],
  () => api.GET('/api/units/{id}/pieces/{part}', { params: { path: { id: unit.value, part: part.value } } }),
  { enabled: () => Boolean(unit.value && part.value) },
)
const seller = (id: string) => room.value?.sellers.find((s) => s.id === id)?.name ?? 'a seller'
const eyes = { shut: 'untested', half: 'shown in part', open: 'proven', '': '' } as const
type Stand = Schemas['PartsAboutPart']['stands'][number]
const stands: Column<Stand>[] = [
  { id: 'from', title: 'Piece of', value: (s) => s.from },
  { id: 'to', title: 'In', value: (s) => s.to },
  { id: 'level', title: 'Gets to', value: (s) => say('level', s.level), few: true },
  { id: 'serves', title: 'Full function', kind: 'number', value: (s) => s.serves, text: (s) => percent(s.serves) },
  { id: 'grade', title: 'Evidence', value: (s) => eyes[s.grade] },
]
type Offer = Schemas['PartsAboutPart']['offers'][number]
const offers: Column<Offer>[] = [
  { id: 'title', title: 'Offer', value: (o) => o.title },
  { id: 'seller', title: 'Seller', value: (o) => seller(o.seller_id), few: true },
  { id: 'grade', title: 'Grade', value: (o) => o.grade, few: true },
  {
    id: 'price',
    title: 'Price',
    kind: 'money',
    value: (o) => o.price_minor,
    text: (o) => money(o.price_minor, o.currency),
  },
  { id: 'stock', title: 'To be had', kind: 'number', value: (o) => o.stock },
]
const passes = { open: 'to be looked at', accept: 'passes', refuse: 'does not pass' } as const
</script>

<template>
  <h1 v-if="!model" class="answer ask">Of which model?</h1>
  <h1 v-else-if="!part" class="answer ask">Which part? Here is everything that is known of it.</h1>
  <div v-else-if="error" class="answer" role="alert">{{ error.message }}</div>
  <AnswerLine v-else class="answer" :sentence="piece?.answer ?? room?.answer" />
  <div class="stage">
    <ElSelect
      v-if="model"
      v-model="part"
      :teleported="false"
      filterable
      default-first-option
      aria-label="Which part"
      placeholder="Which part"
      class="pick no-print"
    >
      <ElOption v-for="p in parts" :key="p.id" :value="p.id" :label="p.name" />
    </ElSelect>
    <template v-if="room && part">
      <section v-if="piece" id="piece">
        <h2>This piece</h2>
        <p>
          <b>{{ `The ${piece.part.name} of ${piece.unit.name}` }}</b>
          : {{ piece.where }}.
          <RouterLink :to="`/studies/${piece.study.id}/swap`">To its swap tests</RouterLink>
        </p>
        <ul v-if="piece.tried.length" id="tried" class="plain">
          <li v-for="t in piece.tried" :key="t.seq">
            Trial {{ t.seq }} on {{ t.board }}’s board:
            <template v-if="t.lost.length">lost {{ t.lost.join(', ') }};</template>
            <template v-if="t.weak.length">weak {{ t.weak.join(', ') }};</template>
            {{ t.pass }} passed
          </li>
        </ul>
        <p v-else class="quiet">It took part in no trial yet.</p>
        <p v-for="e in piece.log" :key="e.when + e.text" class="quiet">{{ moment(e.when) }}: {{ e.text }}</p>
      </section>
      <section id="fits">
        <h2>What is compatible with it, and where it fits</h2>
        <DataTable
          name="stands"
          caption="What is compatible with it"
          :rows="room.stands"
          :columns="stands"
          :row-key="(x) => x.from + x.to"
          empty="No pair of models with this kind of part was tested yet."
        />
        <RouterLink v-if="room.slot" :to="{ name: 'fit', query: { kind: room.slot, from: model } }">
          To the tests between models
        </RouterLink>
      </section>
      <section id="lost">
        <h2>What is lost with another phone’s genuine piece</h2>
        <p v-if="room.genuine">
          {{ room.genuine }}
          <span v-if="room.eye" class="quiet">{{ eyes[room.eye] }}</span>
          <template v-if="room.lost.length">: {{ room.lost.join(', ') }}</template>
        </p>
        <p v-else class="quiet">Not tested on this model.</p>
      </section>
      <section id="offers">
        <h2>Offers</h2>
        <DataTable
          name="offers"
          caption="Offers of this part"
          :rows="room.offers"
          :columns="offers"
          :row-key="(o) => o.id"
          empty="No offer covers this part."
        />
      </section>
      <section v-if="room.lots.length" id="lots">
        <h2>Lots that came in</h2>
        <ul class="plain">
          <li v-for="l in room.lots" :key="l.lot + l.seller">
            {{ `${l.lot}, ${l.seller}, ${l.size} pieces: ` }}
            <b>{{ passes[l.pass] }}</b>
            {{ `. ${l.says}.` }}
          </li>
        </ul>
      </section>
    </template>
  </div>
  <div v-if="room && part" class="shelf">
    <section>
      <h2>In stock</h2>
      <ul class="plain">
        <li>{{ room.free }} free{{ room.taken ? `, ${room.taken} kept for jobs that were taken` : '' }}</li>
        <li v-for="s in room.shelves" :key="s.id">
          {{ `${s.quantity} ${s.grade}, ${s.place}` }}
          <span v-if="s.quarantine" class="look">{{ `quarantine: ${s.quarantine}` }}</span>
        </li>
      </ul>
    </section>
    <section>
      <h2>The way to it</h2>
      <p v-if="room.minutes">
        {{ `${minutes(room.minutes)}, ${room.depth} steps deep.` }}
        <RouterLink :to="{ name: 'ways', params: { id: model }, query: { part } }">Show the way</RouterLink>
      </p>
      <ul class="plain">
        <li v-for="o in room.odds" :key="o.part + o.method">
          {{ `${o.part}, by ${o.method}: ` }}
          {{ o.n ? `${o.k} of ${o.n} damaged, at most ${percent(o.high)}` : `${percent(o.used)} (house)` }}
        </li>
      </ul>
    </section>
    <section v-if="room.figures.length">
      <h2>Figures of an original</h2>
      <ul class="plain">
        <li v-for="f in room.figures" :key="f">{{ f }}</li>
      </ul>
    </section>
    <p v-for="u in room.unknown" :key="u" class="quiet">Not on record: {{ u }}.</p>
  </div>
</template>

<style scoped>
.pick {
  width: 260px;
  margin-bottom: 14px;
}
td {
  font-size: 15px;
}
</style>
