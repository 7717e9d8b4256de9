<script setup lang="ts">
import { ElButton, ElCheckbox, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, onBeforeUnmount, ref, watch } from 'vue'

import { api, ApiError, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { percent } from '../../shared/format'
import { money, toMinor } from '../../shared/money'
import { useRoom } from '../../shared/useRoom'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** The cheapest basket for a job or a build, and whether it pays. */
const props = defineProps<{ desk: Schemas['DeskDesk']; model: string }>()
const emit = defineEmits<{ pick: [model: string] }>()
const job = ref<'build' | 'battery' | 'screen' | 'back-glass' | 'port' | 'camera'>('build')
const used = ref(true)
const copies = ref(true)
const deadline = ref<number>()
const stated = ref<number>()
const { room, error, pending } = useRoom(
  () => ['basket', props.model, job.value, used.value, copies.value, deadline.value, stated.value],
  () => api.GET('/api/parts/basket', { params: { query: asked() } }),
  { enabled: () => Boolean(props.model) },
)
function asked(without?: string) {
  return {
    model: props.model,
    job: job.value,
    used: used.value,
    copies: copies.value,
    deadline: deadline.value ?? 0,
    stated: stated.value ? toMinor(stated.value, props.desk.workshop.currency) : 0,
    ...(without ? { without } : {}),
  }
}
/** What each bought offer would cost us if it were gone: asked one by one, so that it shows how far it is and can be left. */
const extras = ref<Record<string, number>>()
const busy = ref(0)
const failed = ref('')
let left: AbortController | undefined
function leave() {
  left?.abort()
  busy.value = 0
}
onBeforeUnmount(leave)
watch([() => props.model, job, used, copies, deadline, stated, () => room.value?.found.expected], () => {
  leave()
  extras.value = undefined
})
async function weigh() {
  if (!room.value) return
  leave()
  const mine = (left = new AbortController())
  const { lines, found } = room.value
  failed.value = ''
  extras.value = {}
  try {
    for (const [i, l] of lines.entries()) {
      busy.value = i + 1
      const r = await take(api.GET('/api/parts/basket', { params: { query: asked(l.offer_id) }, signal: mine.signal }))
      if (mine.signal.aborted) return
      const gone = r.found.unpriced.length > found.unpriced.length
      extras.value = { ...extras.value, [l.offer_id]: gone ? -1 : Math.max(0, r.found.expected - found.expected) }
    }
  } catch (e) {
    if (!mine.signal.aborted) failed.value = e instanceof ApiError ? e.message : 'No answer.'
  } finally {
    if (left === mine) busy.value = 0
  }
}
const second = computed(() => {
  const least = Math.min(...Object.values(extras.value ?? {}).filter((x) => x >= 0))
  return Number.isFinite(least) && !busy.value ? (room.value?.found.expected ?? 0) + least : undefined
})
const jobs = ['build', 'battery', 'screen', 'back-glass', 'port', 'camera'] as const
const f = computed(() => room.value?.found)
const compare = computed(() => room.value?.document.compare)
const line = (offer: string) => room.value?.lines.find((l) => l.offer_id === offer)
/** The picture: the basket against a refurbished phone, and the chance from which it pays. */
const bar = computed(() => {
  if (!f.value || !compare.value) return undefined
  const most = Math.max(compare.value.refurbished, f.value.expected) * 1.05
  return {
    basket: (300 * f.value.expected) / most,
    invoice: (300 * f.value.invoice) / most,
    refurbished: (300 * compare.value.refurbished) / most,
  }
})
const columns: Column<NonNullable<typeof room.value>['slots'][number]>[] = [
  { id: 'name', title: 'Part needed', value: (x) => x.name },
  { id: 'pieces', title: 'Pieces', kind: 'number', value: (x) => x.quantity },
  { id: 'filled', title: 'Filled by', value: (x) => x.filled.map((o) => line(o)?.title ?? o).join(', ') },
  { id: 'offers', title: 'Offers', kind: 'number', value: (x) => x.offers },
]
</script>

<template>
  <h1 v-if="!model" class="answer ask">For which model? Choose one: its plan says what a build needs.</h1>
  <div v-else-if="error" class="answer" role="alert">{{ error.message }}</div>
  <AnswerLine v-else class="answer" :sentence="room?.answer" />
  <div class="stage">
    <ul v-if="!model" class="plain">
      <li v-for="m in desk.models" :key="m.id">
        <button class="bare link" @click="emit('pick', m.id)">{{ m.name }}</button>
      </li>
    </ul>
    <template v-else-if="room">
      <div class="row no-print asked">
        <ElSelect v-model="job" :teleported="false" aria-label="For what" class="job">
          <ElOption
            v-for="j in jobs"
            :key="j"
            :value="j"
            :label="j === 'build' ? 'a whole build' : `${j.replace('-', ' ')} job`"
          />
        </ElSelect>
        <ElCheckbox v-model="used" label="used parts too" />
        <ElCheckbox v-model="copies" label="copies too" />
        <label class="row">
          within days
          <ElInputNumber
            v-model="deadline"
            :min="1"
            :max="365"
            :controls="false"
            aria-label="Within days"
            style="width: 74px"
          />
        </label>
        <label class="row">
          seller’s quote
          <ElInputNumber v-model="stated" :min="0" :controls="false" aria-label="Seller’s quote" style="width: 100px" />
        </label>
      </div>
      <section id="slots">
        <h2>{{ room.model.name }}: what it takes</h2>
        <DataTable
          name="needs"
          caption="What it takes"
          :rows="room.slots"
          :columns="columns"
          :row-key="(x) => x.id"
          :look="(x) => !x.filled.length"
        >
          <template #name="{ row: x }">
            {{ x.name }}
            <span v-if="x.forgotten" class="quiet">, often forgotten</span>
          </template>
          <template #filled="{ row: x }">
            <template v-if="x.filled.length">{{ x.filled.map((o) => line(o)?.title ?? o).join(', ') }}</template>
            <b v-else class="look">{{ x.offers ? 'not in the basket' : 'no offer' }}</b>
          </template>
        </DataTable>
      </section>
    </template>
    <p v-else-if="pending" class="quiet">Reading …</p>
  </div>
  <div v-if="model && room && f" class="shelf">
    <section v-if="room.lines.length" id="lines">
      <h2>
        The basket,
        {{
          f.proven
            ? 'proven the cheapest'
            : `at most ${percent((f.expected - f.bound) / f.expected)} above the cheapest`
        }}
      </h2>
      <table>
        <tbody>
          <tr v-for="l in room.lines" :key="l.offer_id">
            <td>
              {{ l.packs > 1 ? `${l.packs} × ` : '' }}{{ l.title }}
              <div class="quiet">
                {{ l.seller }}, {{ l.grade }}{{ l.days_old > 30 ? `, priced ${l.days_old} days ago` : '' }}
                <template v-if="extras?.[l.offer_id] !== undefined">
                  {{
                    extras[l.offer_id]! < 0
                      ? '· nothing else covers its part'
                      : `· without it ${money(extras[l.offer_id]!, room.currency)} more`
                  }}
                </template>
              </div>
            </td>
            <td class="num">{{ money(l.price * l.packs, room.currency) }}</td>
          </tr>
          <tr v-for="s in f.sellers" :key="s.seller">
            <td class="quiet">
              {{ room.sellers[s.seller] }}: shipping{{
                s.discount ? `, coupon −${money(s.discount, room.currency)}` : ''
              }}
            </td>
            <td class="num">{{ money(s.shipping - s.discount, room.currency) }}</td>
          </tr>
          <tr>
            <td class="quiet">buying bad ones again, on average</td>
            <td class="num">{{ money(f.rebuy, room.currency) }}</td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <td><b>Expected</b></td>
            <td class="num">
              <b>{{ money(f.expected, room.currency) }}</b>
            </td>
          </tr>
        </tfoot>
      </table>
      <p class="quiet">
        All pieces good at once: {{ percent(f.all_good_first_time) }}. Time and stock of re-buys are not counted.
      </p>
      <ElButton v-if="!extras" class="no-print" @click="weigh">What would each one cost us if it were gone?</ElButton>
      <div v-else-if="busy" class="row no-print">
        <progress :value="busy - 1" :max="room.lines.length" aria-label="Offers weighed" />
        <span role="status">{{ `${busy} of ${room.lines.length}` }}</span>
        <ElButton @click="leave">Stop</ElButton>
      </div>
      <p v-else-if="failed" class="danger" role="alert">{{ failed }}</p>
      <p v-else-if="second !== undefined">Second best: {{ money(second, room.currency) }}.</p>
    </section>
    <section v-if="bar && compare" id="compare">
      <h2>Against a refurbished one</h2>
      <svg
        viewBox="0 0 420 58"
        width="100%"
        role="img"
        :aria-label="`The basket ${money(f.expected, room.currency)}, a refurbished one ${money(compare.refurbished, room.currency)}`"
      >
        <rect class="built" x="0" y="4" :width="bar.invoice" height="18" />
        <rect class="again" :x="bar.invoice" y="4" :width="Math.max(0, bar.basket - bar.invoice)" height="18" />
        <text :x="bar.basket + 6" y="18">basket {{ money(f.expected, room.currency) }}</text>
        <rect class="other" x="0" y="32" :width="bar.refurbished" height="18" />
        <text :x="bar.refurbished + 6" y="46">{{ money(compare.refurbished, room.currency) }}</text>
      </svg>
      <ul class="plain">
        <li v-if="f.break_even != null && f.break_even > 1">
          It never pays: even if every build came out well, parts and work cost more.
        </li>
        <li v-else-if="f.break_even != null">
          Pays when a build comes out well in more than {{ percent(f.break_even) }}.
        </li>
        <li v-if="f.profit != null">
          Leaves {{ money(Math.round(f.profit), room.currency) }}
          <template v-if="f.per_hour != null">, {{ money(Math.round(f.per_hour), room.currency) }} an hour</template>
          .
        </li>
        <li v-if="f.dearer_chance">Comes out dearer than a refurbished one in {{ percent(f.dearer_chance[1]!) }}.</li>
        <li v-if="f.unpriced.length" class="look">Without {{ f.unpriced.length }} parts: none of this is final.</li>
      </ul>
    </section>
    <section v-if="f.questions.length || room.dated.length || room.left.length">
      <h2>Questions</h2>
      <ul class="plain">
        <li v-for="q in f.questions" :key="q.fact">{{ q.fact }}</li>
        <li v-for="q in room.dated" :key="q">{{ q }}</li>
        <li v-for="q in room.left" :key="q">{{ q }}</li>
      </ul>
    </section>
    <p v-if="f.spare.length" class="quiet">
      Left over: {{ f.spare.map((s) => `${s.quantity} ${s.slot.replaceAll('-', ' ')}`).join(', ') }}.
    </p>
  </div>
</template>

<style scoped>
.job {
  width: 170px;
}
.asked {
  margin-bottom: 16px;
}
.missing {
  background: var(--amber-wash);
}
.built {
  fill: var(--pine);
}
.again {
  fill: var(--amber-fill);
}
.other {
  fill: var(--strong-line);
}
text {
  font-size: 13px;
  fill: var(--ink);
}
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
  min-height: 28px;
}
td {
  font-size: 15px;
}
</style>
