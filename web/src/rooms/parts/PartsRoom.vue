<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api } from '../../api/client'
import FaceBar from '../../shared/FaceBar.vue'
import ModelSelect from '../../shared/ModelSelect.vue'
import { useSession } from '../../shared/session'
import { useRoom } from '../../shared/useRoom'
import BasketFace from './BasketFace.vue'
import BuyFace from './BuyFace.vue'
import DonorFace from './DonorFace.vue'
import IncomingFace from './IncomingFace.vue'
import JobsFace from './JobsFace.vue'
import ListFace from './ListFace.vue'
import OrderFace from './OrderFace.vue'
import PartFace from './PartFace.vue'
import RecordFace from './RecordFace.vue'
import StockFace from './StockFace.vue'
import WorkshopFace from './WorkshopFace.vue'

const route = useRoute()
const router = useRouter()
const faces = [
  ['buy', 'Buy'],
  ['list', 'Read a list'],
  ['basket', 'A build'],
  ['stock', 'Stock'],
  ['incoming', 'Incoming'],
  ['jobs', 'Jobs'],
  ['donors', 'Donors'],
  ['part', 'One part'],
  ['record', 'Offers and prices'],
  ['workshop', 'Workshop'],
] as const
const face = computed(() => String(route.query.face ?? (route.query.model ? 'basket' : 'buy')))
const ask = (q: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...q } })
const model = computed({
  get: () => String(route.query.model ?? ''),
  set: (id: string) => void ask({ model: id || undefined }),
})
/** Each face reads the rows that it shows; settings, sellers and models come with all of them. */
type Of = 'offers' | 'exchanges' | 'prices' | 'shelves' | 'work' | 'none'
const rows: Record<string, Of[]> = { record: ['offers', 'exchanges', 'prices'], stock: ['shelves'], jobs: ['work'] }
const of = computed<Of[]>(() => rows[face.value] ?? ['none'])
const { room: desk, error } = useRoom(
  () => ['desk', ...of.value],
  () => api.GET('/api/parts', { params: { query: { of: of.value } } }),
)
const { may } = useSession()
const buys = may('buying')
const jobs = may('jobs')
const office = may('office')
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <template v-if="desk">
      <div class="top">
        <FaceBar
          :faces="faces"
          :face="face === 'order' ? 'buy' : face"
          @show="(f) => ask({ face: f, order: undefined })"
        />
        <ModelSelect
          v-if="['basket', 'donors', 'part', 'record', 'jobs'].includes(face)"
          v-model="model"
          label="For which model"
          class="pick"
        />
      </div>
      <BuyFace v-if="face === 'buy'" :desk="desk" :writes="buys" @order="ask({ face: 'order', order: $event })" />
      <OrderFace
        v-else-if="face === 'order'"
        :id="String(route.query.order ?? '')"
        :writes="buys"
        @back="ask({ face: 'buy', order: undefined })"
      />
      <ListFace v-else-if="face === 'list'" :desk="desk" :writes="buys" />
      <BasketFace v-else-if="face === 'basket'" :desk="desk" :model="model" @pick="model = $event" />
      <StockFace v-else-if="face === 'stock'" :desk="desk" :writes="buys" />
      <IncomingFace v-else-if="face === 'incoming'" :desk="desk" :writes="buys" />
      <JobsFace v-else-if="face === 'jobs'" :desk="desk" :model="model" :writes="jobs" />
      <DonorFace v-else-if="face === 'donors'" :model="model" :writes="buys" />
      <PartFace v-else-if="face === 'part'" :model="model" />
      <RecordFace v-else-if="face === 'record'" :desk="desk" :model="model" :writes="buys" />
      <WorkshopFace v-else :desk="desk" :writes="office" />
    </template>
  </div>
</template>

<style scoped>
.top {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  align-items: end;
  justify-content: space-between;
  padding-top: 14px;
}
.pick {
  width: 230px;
  margin-bottom: 14px;
}
</style>
