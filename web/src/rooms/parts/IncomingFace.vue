<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { reactive, ref } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { day } from '../../shared/locale'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import DeskForm from './DeskForm.vue'
import LookClose from './LookClose.vue'
import type { Kept } from './rows'

/** What came in: what to look at, how many, and whether to go on buying there. */
defineProps<{ desk: Schemas['DeskDesk']; writes: boolean }>()
const { room, error } = useRoom(['incoming'], () => api.GET('/api/parts/incoming'))
const open = ref<Kept | 'new'>()
const places = reactive<Record<string, string>>({})
const { problem, mine, theirs, save } = useChange()
const put = (id: string) =>
  save((_, header) =>
    take(
      api.POST('/api/deliveries/{id}/stock', { params: { path: { id }, header }, body: { place: places[id] ?? '' } }),
    ),
  )
const words = { open: 'to be looked at', accept: 'passes', refuse: 'does not pass' } as const
function facts(d: Schemas['PartsDeliveryView']): Kept {
  const { looks, plan, k, n, says, pass, figures, photos, own, seller, model, order_id, order_line, stocked, ...row } =
    d
  void [looks, plan, k, n, says, pass, figures, photos, own, seller, model, order_id, order_line, stocked]
  return row as unknown as Kept
}
/** Good pieces that lie on no shelf yet. */
const left = (d: Schemas['PartsDeliveryView']) => d.size - (d.bad ?? 0) - (d.stocked ?? 0)
</script>

<template>
  <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
  <AnswerLine v-else class="answer" :sentence="room?.answer" />
  <div v-if="room" class="stage">
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <ElButton v-if="writes" type="primary" @click="open = 'new'">Receive a delivery</ElButton>
    <ul id="deliveries" class="plain">
      <li v-for="d in room.deliveries" :key="d.id">
        <div class="row head">
          <b>{{ d.item.replaceAll('-', ' ') }}, {{ d.model }}</b>
          <span>{{ d.size }} {{ d.grade }}, lot {{ d.lot }}, {{ d.seller }}, {{ day(d.received_on) }}</span>
          <b :class="{ look: d.pass === 'open', danger: d.pass === 'refuse', pine: d.pass === 'accept' }">
            {{ words[d.pass] }}
          </b>
        </div>
        <p>
          <template v-if="d.plan.whole_lot">Look at every one; none may be bad.</template>
          <template v-else>Look at {{ d.plan.sample }}; {{ d.plan.accept }} of them may be bad.</template>
          {{ `${d.inspected ?? 0} looked at, ${d.bad ?? 0} bad.` }}
          <span :class="d.plan.stop_buying ? 'danger' : 'quiet'">{{ d.says }}.</span>
        </p>
        <p v-if="d.reasons?.length" class="quiet">Went back for: {{ d.reasons.join('; ') }}.</p>
        <details>
          <summary>What to look at</summary>
          <ul>
            <li v-for="l in d.looks" :key="l">{{ l }}</li>
          </ul>
          <LookClose :delivery="d" :row="facts(d)" :writes="writes" />
        </details>
        <div v-if="writes" class="row">
          <ElButton :aria-label="`Inspected: lot ${d.lot}`" @click="open = facts(d)">
            Write down what was found
          </ElButton>
          <form v-if="d.pass === 'accept' && left(d) > 0" class="row" @submit.prevent="put(d.id)">
            <ElInput
              v-model="places[d.id]"
              maxlength="60"
              placeholder="drawer B2"
              :aria-label="`Place of lot ${d.lot}`"
              class="place"
            />
            <ElButton native-type="submit" :disabled="!places[d.id]?.trim()">Put {{ left(d) }} into stock</ElButton>
          </form>
        </div>
      </li>
    </ul>
    <DeskForm
      v-if="open"
      :key="open === 'new' ? 'new' : open.id"
      kind="delivery"
      :desk="desk"
      :row="open === 'new' ? undefined : open"
      @close="open = undefined"
    />
  </div>
  <div class="shelf">
    <p class="quiet">
      The plan lets a lot with 2 % bad ones pass 95 of 100 times, and one with 10 % at most 10 of 100 times (usual
      limits). A bad piece goes back with its reason, and counts for its seller.
    </p>
    <p class="quiet">
      Batteries: never pierce or bend; a swollen one goes into the fire-safe box at once. Salvaged batteries stay in
      quarantine until they were inspected.
    </p>
  </div>
</template>

<style scoped>
.head {
  justify-content: space-between;
}
.pine {
  color: var(--pine);
}
.place {
  width: 140px;
}
</style>
