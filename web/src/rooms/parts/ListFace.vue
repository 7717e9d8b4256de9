<script setup lang="ts">
import { useDropZone } from '@vueuse/core'
import { ElButton, ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref, useTemplateRef } from 'vue'

import { api, ApiError, newId, take, type Problem, type Schemas } from '../../api/client'
import DataTable from '../../shared/DataTable.vue'
import { moment } from '../../shared/locale'
import ModelSelect from '../../shared/ModelSelect.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import type { Column } from '../../shared/table'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import ListColumns from './ListColumns.vue'
import ListWrong from './ListWrong.vue'

/** A seller's list: read, asked about once a column, put in as one, and taken back as one. */
defineProps<{ desk: Schemas['DeskDesk']; writes: boolean }>()
type Look = Schemas['OffersLook']
type Row = Schemas['OffersRow']
const empty = (): Schemas['OffersList'] => ({
  name: '',
  file: '',
  answers: {},
  mapping: {},
  cells: [],
  new_sellers: [],
  new_slots: [],
})
const list = reactive(empty())
const pasted = ref('')
const look = ref<Look>()
const refused = ref<Problem>()
const reading = ref(false)
const rest = ref(false)
const whole = ref(false)
const done = ref<Schemas['OffersDone']>()
const { problem, busy, mine, theirs, save } = useChange()
const { room: imports } = useRoom(['offer-imports'], () => api.GET('/api/offer-imports'))

const zone = useTemplateRef<HTMLElement>('zone')
const { isOverDropZone } = useDropZone(zone, (files) => files?.[0] && void give(files[0]))
async function give(from: File) {
  await begin(new Uint8Array(await from.arrayBuffer()), from.name)
}
async function choose(e: Event) {
  const chosen = (e.target as HTMLInputElement).files?.[0]
  ;(e.target as HTMLInputElement).value = ''
  if (chosen) await give(chosen)
}
async function paste() {
  if (pasted.value.trim()) await begin(new TextEncoder().encode(pasted.value), 'what was pasted')
}
async function begin(bytes: Uint8Array, name: string) {
  let text = ''
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000))
  const { model, seller, grade, currency } = list
  Object.assign(list, empty(), { model, seller, grade, currency, file: btoa(text), name: name.slice(0, 120) })
  done.value = undefined
  rest.value = whole.value = false
  await read()
}
const asked = () => ({ ...list, currency: (list.currency ?? '').toUpperCase() })
async function read() {
  if (!list.file) return
  reading.value = true
  refused.value = undefined
  try {
    look.value = await take(api.POST('/api/offers/look', { body: asked() }))
  } catch (e) {
    if (!(e instanceof ApiError)) throw e
    look.value = undefined
    refused.value = e.problem
  } finally {
    reading.value = false
  }
}
async function answer(id: string, option: string) {
  list.answers = { ...look.value?.answers, ...list.answers, [id]: option }
  await read()
}
async function put() {
  const made = await save((_, header) =>
    take(
      api.POST('/api/offer-imports', {
        params: { header },
        body: { id: newId(), ...asked(), known: look.value!.known, rest: rest.value, whole: whole.value },
      }),
    ),
  )
  if (!made) return
  done.value = made
  look.value = undefined
  list.file = pasted.value = ''
}
const undo = (i: Schemas['OffersDone']) =>
  save((v, header) =>
    take(
      api.PUT('/api/offer-imports/{id}/undo', {
        params: { path: { id: i.id }, header },
        body: { version: v ?? i.version },
      }),
    ),
  )

const columns = computed<Column<Row>[]>(() => [
  { id: 'line', title: 'Line', kind: 'number', value: (r) => r.line },
  { id: 'decision', title: 'Becomes', value: (r) => words[r.decision], few: true },
  { id: 'says', title: 'Understood as', value: (r) => r.says || r.cells.filter(Boolean).join(' · ') },
  { id: 'changed', title: 'What changes', value: (r) => (r.changed ?? []).join('; ') },
])
const words: Record<Row['decision'], string> = {
  new: 'new',
  changed: 'changed',
  same: 'as it was',
  duplicate: 'there twice',
  asked: 'waits for an answer',
  wrong: 'wrong',
}
/** Options of a question in words. */
const options: Record<string, string> = {
  '.': 'a point:',
  ',': 'a comma:',
  dmy: 'the day first:',
  mdy: 'the month first:',
}
const counted = computed(() => {
  const c = look.value?.counts
  if (!c) return ''
  return (Object.keys(words) as Row['decision'][])
    .filter((d) => c[d])
    .map((d) => `${c[d]} ${words[d]}`)
    .join(', ')
})
const ready = computed(
  () =>
    look.value &&
    !look.value.missing.length &&
    !look.value.counts.asked &&
    (!look.value.counts.wrong || rest.value) &&
    look.value.counts.new + look.value.counts.changed + (whole.value ? look.value.counts.gone : 0) > 0,
)
</script>

<template>
  <h1 class="answer ask" aria-live="polite">
    <template v-if="done">
      Put in: {{ done.new }} new, {{ done.changes - done.gone }} changed, {{ done.same }} as they were{{
        done.gone ? `, ${done.gone} out of stock` : ''
      }}.
    </template>
    <template v-else-if="look">{{ counted || 'Something is still needed' }}: nothing is put in yet.</template>
    <template v-else>A seller’s list: paste it, drop it here, or choose a file.</template>
  </h1>
  <div ref="zone" class="stage" :class="{ over: isOverDropZone }">
    <section v-if="writes">
      <div class="row">
        <label class="file">
          A file, CSV or XLSX
          <input type="file" accept=".csv,.tsv,.txt,.xlsx" class="hidden" @change="choose" />
        </label>
        <span class="quiet">{{ list.name }}</span>
      </div>
      <ElInput
        v-model="pasted"
        type="textarea"
        :rows="3"
        placeholder="or paste rows with their heads out of a spreadsheet or a mail"
        aria-label="Rows of a list"
        @change="paste"
      />
      <div class="row fill">
        <div>
          For the model
          <ModelSelect
            :model-value="list.model ?? ''"
            label="For the model, where no column says it"
            @update:model-value="((list.model = $event), read())"
          />
        </div>
        <div>
          Seller
          <ElSelect
            v-model="list.seller"
            :teleported="false"
            filterable
            clearable
            placeholder="by its column"
            aria-label="Seller, where no column says it"
            @change="read()"
          >
            <ElOption v-for="s in look?.sellers ?? desk.sellers.map((x) => x.name)" :key="s" :value="s" :label="s" />
          </ElSelect>
        </div>
        <div>
          Grade
          <ElSelect
            v-model="list.grade"
            :teleported="false"
            clearable
            placeholder="by its column"
            aria-label="Grade, where no column says it"
            @change="read()"
          >
            <ElOption v-for="g in ['original', 'used', 'copy']" :key="g" :value="g" :label="g" />
          </ElSelect>
        </div>
      </div>
    </section>
    <ProblemNote :problem="refused ?? problem" :mine="mine" @theirs="theirs" />
    <p v-if="reading" class="quiet">Reading …</p>
    <template v-if="look">
      <section v-for="q in look.questions" :key="q.id" class="question" role="group" :aria-label="q.text">
        <b>{{ q.text }}</b>
        {{ ' ' }}
        <span class="quiet">
          {{ q.lines.length === 1 ? 'line' : 'lines' }} {{ q.lines.slice(0, 6).join(', ')
          }}{{ q.lines.length > 6 ? ' …' : '' }}
        </span>
        <form v-if="!q.options.length" class="row" @submit.prevent="read()">
          <ElInput v-model="list.currency" maxlength="3" placeholder="EUR" :aria-label="q.text" style="width: 80px" />
          <ElButton native-type="submit" :disabled="list.currency?.length !== 3">All in this one</ElButton>
        </form>
        <div v-else class="row">
          <ElButton
            v-for="x in q.options"
            :key="x"
            :type="q.suggest === x ? 'primary' : 'default'"
            @click="answer(q.id, x)"
          >
            {{ options[x] ?? x }}
            <span v-if="q.reads[x]?.length" class="reads">{{ q.reads[x].join(', ') }}</span>
          </ElButton>
        </div>
      </section>
      <p v-if="look.remembered.length" class="quiet">
        Answered as on this seller’s last list:
        {{ look.remembered.map((id) => look!.answers[id]).join(', ') }}.
      </p>
      <ListColumns :look="look" @map="(f, k) => ((list.mapping = { ...list.mapping, [f]: k }), read())" />
      <ListWrong
        v-if="look.errors.length"
        :look="look"
        @mend="
          (c) => (
            (list.cells = [...(list.cells ?? []).filter((x) => x.line !== c.line || x.column !== c.column), c]),
            read()
          )
        "
        @slot="(s) => ((list.new_slots = [...(list.new_slots ?? []), s]), read())"
        @seller="(s) => ((list.new_sellers = [...(list.new_sellers ?? []), s]), read())"
      />
      <section v-if="!look.missing.length">
        <h2>Understood: {{ look.kind }}</h2>
        <DataTable
          name="list"
          caption="What was understood"
          :rows="look.rows"
          :columns="columns"
          :row-key="(r) => String(r.line)"
          :look="(r) => r.decision === 'wrong' || r.decision === 'asked'"
          empty="No row could be read."
        />
      </section>
      <div class="row">
        <ElCheckbox v-if="look.counts.wrong" v-model="rest" :label="`leave the ${look.counts.wrong} wrong out`" />
        <ElCheckbox
          v-if="look.counts.gone"
          v-model="whole"
          :label="`the list is whole: ${look.counts.gone} that are not in it are out of stock`"
        />
      </div>
      <p v-if="whole && look.gone.length" class="quiet">Out of stock: {{ look.gone.slice(0, 8).join('; ') }}.</p>
      <ElButton v-if="writes && !look.missing.length" type="primary" :disabled="!ready" :loading="busy" @click="put">
        Put in {{ look.counts.new }} new, {{ look.counts.changed }} changed
      </ElButton>
    </template>
  </div>
  <div class="shelf">
    <section id="imports">
      <h2>Lists that were put in</h2>
      <ul class="plain">
        <li v-for="i in imports" :key="i.id">
          <b>{{ i.file }}</b>
          {{ i.sellers.join(', ') }}
          <div class="quiet">
            {{ moment(i.when) }}, {{ i.who }}: {{ i.new }} new, {{ i.changes - i.gone }} changed, {{ i.same }} as they
            were{{ i.undone ? '; taken back' : '' }}
          </div>
          <div v-for="k in i.kept ?? []" :key="k" class="look">{{ k }}</div>
          <ElButton v-if="writes && !i.undone" size="small" :aria-label="`Take it back: ${i.file}`" @click="undo(i)">
            Take it back
          </ElButton>
        </li>
      </ul>
      <p v-if="!imports?.length" class="quiet">None yet.</p>
    </section>
    <p class="quiet">
      A price is read by its column: where 1,840 could be two figures, it is asked once. A second list of a seller
      changes what its first one said; nothing doubles.
    </p>
  </div>
</template>

<style scoped>
.file {
  border: 1px solid var(--strong-line);
  padding: 6px 14px;
  cursor: pointer;
  font-size: 15px;
}
.file:focus-within {
  outline: 3px solid var(--amber-fill);
}
.row {
  margin-bottom: 8px;
}
.fill {
  margin-top: 8px;
  align-items: end;
}
.fill > div {
  width: 200px;
  font-size: 14px;
}
.question {
  background: var(--amber-wash);
  padding: 10px 14px;
}
.question .row {
  margin: 8px 0 0;
}
.reads {
  margin-left: 8px;
  font-weight: 400;
}
.over {
  outline: 3px dashed var(--pine);
}
.quiet {
  font-size: 14px;
}
</style>
