<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { minutes, percent } from '../../shared/format'
import { money } from '../../shared/money'
import { useRoom } from '../../shared/useRoom'

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
  set: (id: string) => void router.replace({ query: { ...route.query, part: id || undefined } }),
})
const { room, error } = useRoom(
  () => ['about', props.model, part.value],
  () => api.GET('/api/models/{id}/about/{part}', { params: { path: { id: props.model, part: part.value } } }),
  { enabled: () => Boolean(props.model && part.value) },
)
const seller = (id: string) => room.value?.sellers.find((s) => s.id === id)?.name ?? 'a seller'
const eyes = { shut: 'untested', half: 'shown in part', open: 'proven', '': '' } as const
const passes = { open: 'to be looked at', accept: 'passes', refuse: 'does not pass' } as const
</script>

<template>
  <h1 v-if="!model" class="answer ask">Of which model?</h1>
  <h1 v-else-if="!part" class="answer ask">Which part? Here is everything that is known of it.</h1>
  <div v-else-if="error" class="answer" role="alert">{{ error.message }}</div>
  <AnswerLine v-else class="answer" :sentence="room?.answer" />
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
      <section id="fits">
        <h2>What is compatible with it, and where it fits</h2>
        <table v-if="room.stands.length">
          <thead>
            <tr>
              <th>Piece of</th>
              <th>In</th>
              <th>Gets to</th>
              <th class="num">Full function</th>
              <th>Evidence</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in room.stands" :key="s.from + s.to">
              <td>{{ s.from }}</td>
              <td>{{ s.to }}</td>
              <td>{{ s.level.replaceAll('-', ' ') }}</td>
              <td class="num">{{ percent(s.serves) }}</td>
              <td>{{ eyes[s.grade] }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else class="quiet">No pair of models with this kind of part was tested yet.</p>
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
        <table v-if="room.offers.length">
          <tbody>
            <tr v-for="o in room.offers" :key="o.id">
              <td>{{ o.title }}</td>
              <td>{{ seller(o.seller_id) }}</td>
              <td>{{ o.grade }}</td>
              <td class="num">{{ money(o.price_minor, o.currency) }}</td>
              <td class="num">{{ o.stock }} to be had</td>
            </tr>
          </tbody>
        </table>
        <p v-else class="quiet">No offer covers this part.</p>
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
          {{ o.n ? `${o.k} of ${o.n} hurt, at most ${percent(o.high)}` : `${percent(o.used)} (house)` }}
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
