<script setup lang="ts">
import { useClipboard } from '@vueuse/core'
import { ElButton, ElInput, ElInputNumber } from 'element-plus'
import { computed, ref } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { dated, day } from '../../shared/locale'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import ReceiveForm from './ReceiveForm.vue'

/** One order: its lines and what became of them, its letter, and each act that may follow. */
const props = defineProps<{ id: string; writes: boolean }>()
const emit = defineEmits<{ back: [] }>()
type Line = Schemas['OrdersLine']
const { room: o, error } = useRoom(
  () => ['order', props.id],
  () => api.GET('/api/orders/{id}', { params: { path: { id: props.id } } }),
  { enabled: () => Boolean(props.id) },
)
const { problem, busy, mine, theirs, save } = useChange()
const why = ref('')
const cancelling = ref(false)
const receiving = ref<Line>()
const ending = ref<Line>()
const at = (header: { 'Idempotency-Key': string }) => ({ path: { id: props.id }, header })
const move = async (state: 'sent' | 'draft' | 'cancelled') => {
  const done = await save((v, header) =>
    take(
      api.PUT('/api/orders/{id}/state', {
        params: at(header),
        body: { version: v ?? o.value!.version, state, why: why.value },
      }),
    ),
  )
  if (done) {
    cancelling.value = false
    why.value = ''
  }
}
const ask = () =>
  save((v, header) =>
    take(api.PUT('/api/orders/{id}/asked', { params: at(header), body: { version: v ?? o.value!.version } })),
  )
/** A draft's line is changed on its own; nothing else of it moves. */
const change = (l: Line, quantity: number, reprice = false) =>
  save((v, header) =>
    take(
      api.PUT('/api/orders/{id}', {
        params: at(header),
        body: {
          version: v ?? o.value!.version,
          for_jobs: o.value!.for_jobs ?? '',
          ...(o.value!.wanted_by ? { wanted_by: o.value!.wanted_by } : {}),
          lines: [{ no: l.no, quantity, note: l.note ?? '', reprice }],
        },
      }),
    ),
  )
async function writeOff() {
  const done = await save((v, header) =>
    take(
      api.PUT('/api/orders/{id}/rest', {
        params: at(header),
        body: { version: v ?? o.value!.version, line: ending.value!.no, why: why.value },
      }),
    ),
  )
  if (done) {
    ending.value = undefined
    why.value = ''
  }
}
const told = (receipt: string) =>
  save((v, header) =>
    take(
      api.PUT('/api/orders/{id}/claims/{receipt}', {
        params: { path: { id: props.id, receipt }, header },
        body: { version: v ?? o.value!.version },
      }),
    ),
  )
const { copy, copied } = useClipboard({ legacy: true })
const open = computed(() => ['sent', 'part received'].includes(o.value?.state ?? ''))
const receipts = (l: Line) => o.value!.receipts.filter((r) => r.line === l.no)
const said = (r: Schemas['OrderReceipt']) =>
  [
    `${r.came} came on ${day(r.on)}`,
    r.good && `${r.good} good`,
    r.bad && `${r.bad} bad`,
    r.wrong && `${r.wrong} not what was ordered`,
    r.came - r.good - r.bad - r.wrong > 0 && !r.over && `${r.came - r.good - r.bad - r.wrong} not looked at`,
    r.over && `${r.over} too many: ${{ take: 'taken', return: 'sent back', refuse: 'refused' }[r.surplus || 'take']}`,
    `lot ${r.lot}`,
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <h1 v-if="error" class="answer" role="alert">{{ error.message }}</h1>
  <h1 v-else-if="!id" class="answer ask">Which order? Choose one on the page of what to buy.</h1>
  <template v-else-if="o">
    <h1 class="answer ask" aria-live="polite">
      Order {{ o.number }} to {{ o.seller }}, {{ o.total }}: {{ dated(o.says) }}.
    </h1>
    <div class="stage">
      <button class="bare link no-print" @click="emit('back')">All needs and orders</button>
      <section>
        <h2>What is ordered</h2>
        <div class="scroll">
          <table>
            <thead>
              <tr>
                <th>No</th>
                <th>What</th>
                <th>For</th>
                <th class="num">Packs</th>
                <th class="num">Each</th>
                <th class="num">Sum</th>
                <th v-if="o.state !== 'draft'" class="num">To come</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="l in o.rows" :key="l.no">
                <td>{{ l.no }}</td>
                <td>
                  {{ l.title }}
                  <div class="quiet">
                    {{ [l.code, l.grade, l.lot && `lot ${l.lot}`, l.what, l.note].filter(Boolean).join(', ') }}
                  </div>
                  <div v-if="l.moved" class="look">
                    {{ l.moved }}
                    <button v-if="writes" class="bare link" @click="change(l, l.quantity, true)">
                      take the new price
                    </button>
                  </div>
                  <div v-for="r in receipts(l)" :key="r.id" class="quiet">{{ said(r) }}</div>
                  <div v-if="l.written_off" class="look">{{ l.written_off }} written off: {{ l.written_why }}</div>
                </td>
                <td>{{ l.model }}</td>
                <td class="num">
                  <ElInputNumber
                    v-if="o.state === 'draft' && writes"
                    :model-value="l.quantity"
                    :min="0"
                    :max="1000"
                    :controls="false"
                    :aria-label="`Packs of line ${l.no}`"
                    style="width: 70px"
                    @change="(n) => change(l, n ?? l.quantity)"
                  />
                  <template v-else>{{ l.quantity }}</template>
                </td>
                <td class="num">{{ l.each }}</td>
                <td class="num">{{ l.sum }}</td>
                <td v-if="o.state !== 'draft'" class="num">
                  {{ l.open }}
                  <div v-if="open && l.open && writes" class="no-print acts">
                    <ElButton size="small" :aria-label="`Receive line ${l.no}`" @click="receiving = l">
                      Receive
                    </ElButton>
                    <button class="bare link" :aria-label="`Write off the rest of line ${l.no}`" @click="ending = l">
                      write off
                    </button>
                  </div>
                  <ElButton
                    v-else-if="open && writes"
                    class="no-print"
                    size="small"
                    :aria-label="`More came of line ${l.no}`"
                    @click="receiving = l"
                  >
                    More came
                  </ElButton>
                </td>
              </tr>
            </tbody>
            <tfoot>
              <tr>
                <td colspan="5">Parts</td>
                <td class="num">{{ o.subtotal }}</td>
              </tr>
              <tr v-if="o.coupon">
                <td colspan="5">Coupon</td>
                <td class="num">{{ o.coupon }}</td>
              </tr>
              <tr>
                <td colspan="5">Shipping</td>
                <td class="num">{{ o.shipping }}</td>
              </tr>
              <tr>
                <td colspan="5">
                  <b>Total</b>
                  <span v-if="o.home" class="quiet">, {{ dated(o.home) }}</span>
                </td>
                <td class="num">
                  <b>{{ o.total }}</b>
                </td>
              </tr>
            </tfoot>
          </table>
        </div>
        <form v-if="ending" class="row ask" @submit.prevent="writeOff">
          Write off {{ ending.open }} of line {{ ending.no }}, because
          <ElInput v-model="why" maxlength="200" aria-label="Why the rest is written off" style="width: 260px" />
          <ElButton native-type="submit" :disabled="!why.trim()" :loading="busy">Write off</ElButton>
          <ElButton @click="ending = undefined">Not now</ElButton>
        </form>
      </section>
      <section v-if="o.claims.length" id="claims">
        <h2>Claims</h2>
        <ul class="plain">
          <li v-for="c in o.claims" :key="c.receipt" :class="{ look: !c.told && c.days_left <= 3 }">
            <b>{{ c.amount }}</b>
            for {{ c.pieces }} bad of line {{ c.line }}:
            {{ c.told ? 'told' : `tell it by ${day(c.by!)}` }}
            <pre>{{ c.text }}</pre>
            <div class="row no-print">
              <ElButton size="small" @click="copy(c.text)">{{ copied ? 'Copied' : 'Copy the text' }}</ElButton>
              <ElButton v-if="!c.told && writes" size="small" @click="told(c.receipt)">It was told</ElButton>
            </div>
          </li>
        </ul>
      </section>
    </div>
    <div class="shelf">
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <section v-if="writes" class="no-print">
        <h2>What next</h2>
        <div class="row">
          <ElButton v-if="o.state === 'draft'" type="primary" :loading="busy" @click="move('sent')">I sent it</ElButton>
          <ElButton v-if="open" :loading="busy" @click="ask">I asked where it is</ElButton>
          <ElButton v-if="o.may_back" :loading="busy" @click="move('draft')">Back to draft</ElButton>
          <ElButton v-if="o.state === 'draft' || open" @click="cancelling = true">Cancel it</ElButton>
        </div>
        <form v-if="cancelling" class="row ask" @submit.prevent="move('cancelled')">
          <ElInput v-model="why" maxlength="300" placeholder="why" aria-label="Why it is cancelled" />
          <ElButton native-type="submit" type="primary" :loading="busy">Cancel the order</ElButton>
          <ElButton @click="cancelling = false">Keep it</ElButton>
        </form>
        <p v-if="o.state === 'draft'" class="quiet">
          The program sends nothing: print or copy it, send it, then say so.
        </p>
      </section>
      <section class="no-print">
        <h2>Take it out</h2>
        <ul class="plain">
          <li>
            <a :href="`/api/orders/${o.id}/pdf`" target="_blank">PDF</a>
            ·
            <a :href="`/api/orders/${o.id}/csv`">CSV</a>
          </li>
          <li v-if="o.unprintable" class="look">A PDF prints these letters as question marks: {{ o.unprintable }}</li>
          <li>
            {{ o.mail.subject }}
            <pre>{{ o.mail.body }}</pre>
            <ElButton size="small" @click="copy(`${o.mail.subject}\n\n${o.mail.body}`)">
              {{ copied ? 'Copied' : 'Copy the mail' }}
            </ElButton>
          </li>
        </ul>
      </section>
      <p v-if="o.for_jobs" class="quiet">For jobs {{ o.for_jobs }}.</p>
    </div>
    <ReceiveForm v-if="receiving" :order="o" :line="receiving" @close="receiving = undefined" />
  </template>
</template>

<style scoped>
.num {
  text-align: right;
  white-space: nowrap;
}
td {
  font-size: 15px;
  vertical-align: top;
}
.acts {
  font-family: var(--sans, inherit);
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  gap: 4px;
}
pre {
  white-space: pre-wrap;
  font: inherit;
  font-size: 14px;
  border-left: 3px solid var(--line);
  padding-left: 10px;
  margin: 6px 0;
}
form.ask {
  background: var(--amber-wash);
  padding: 8px 12px;
  margin-top: 8px;
}
.quiet {
  font-size: 14px;
}
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
  min-height: 24px;
}
</style>
