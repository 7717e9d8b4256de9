<script setup lang="ts">
import { ElButton } from 'element-plus'
import { reactive, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { figure, minutes, percent } from '../../shared/format'
import OddsBar from '../../shared/OddsBar.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'

/** A sick phone: from a symptom, one look after the other, to its cause, or to an open question. */
const props = defineProps<{ room: Schemas['SwapRoom']; writes: boolean }>()
const { room: faults } = useRoom(['faults', props.room.study.id], () =>
  api.GET('/api/studies/{id}/faults', { params: { path: { id: props.room.study.id } } }),
)
const { problem, mine, theirs, busy, save } = useChange()
const fresh = reactive({
  unit_id: props.room.units[0]?.id ?? '',
  check: props.room.checks[0]?.mark ?? '',
  part_id: props.room.slots[0]?.id ?? '',
  symptom: '',
})
async function open() {
  const made = await save((_, header) =>
    take(
      api.POST('/api/studies/{id}/faults', {
        params: { path: { id: props.room.study.id }, header },
        body: { id: newId(), ...fresh },
      }),
    ),
  )
  if (made) fresh.symptom = ''
}
type Act = Schemas['Try']['act']
const acting = ref<Record<string, Act>>({})
async function tried(f: Schemas['SwapFaultView'], act: Act, stayed: boolean) {
  await save((v, header) =>
    take(
      api.PUT('/api/faults/{id}', {
        params: { path: { id: f.id }, header },
        body: {
          version: v ?? f.version,
          unit_id: f.unit_id,
          check: f.check,
          symptom: f.symptom,
          part_id: f.part_id,
          tries: [...(f.tries ?? []), { act, stayed }],
        },
      }),
    ),
  )
}
const next = (f: Schemas['SwapFaultView']) =>
  (acting.value[f.id] ?? (f.tries?.length ? f.next[0]?.act : 'as it is') ?? 'as it is') as Act
</script>

<template>
  <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
  <section v-for="f in faults ?? []" :key="f.id" class="case">
    <AnswerLine :sentence="f.answer" plain />
    <div class="two">
      <ul class="plain">
        <li v-for="c in f.causes" :key="c.words" class="cause">
          <OddsBar :p="c.p" />
          <span>
            {{ c.words }}
            <small class="quiet">from {{ percent(c.prior) }} (house)</small>
          </span>
        </li>
      </ul>
      <div>
        <ol v-if="f.tries?.length" class="tries">
          <li v-for="(t, i) in f.tries" :key="i">
            {{ t.act }}:
            <b :class="{ look: t.stayed }">{{ t.stayed ? 'still there' : 'gone' }}</b>
          </li>
        </ol>
        <p v-for="n in f.next.slice(0, 3)" :key="n.act" class="quiet">
          {{ n.act }}:
          <span class="fig">{{ minutes(n.minutes) }}</span>
          {{ n.opens ? 'with opening' : 'closed' }},
          <span class="fig">{{ figure(n.bits, 'bits') }}</span>
          bits
        </p>
        <p v-if="writes" class="row">
          <select
            :value="next(f)"
            aria-label="What was tried"
            @change="(e) => (acting[f.id] = (e.target as HTMLSelectElement).value as Act)"
          >
            <option v-for="a in f.acts" :key="a" :value="a">{{ a }}</option>
          </select>
          <ElButton size="small" :disabled="busy" @click="tried(f, next(f), true)">Still there</ElButton>
          <ElButton size="small" :disabled="busy" @click="tried(f, next(f), false)">Gone</ElButton>
        </p>
      </div>
    </div>
  </section>
  <p v-if="faults && !faults.length" class="quiet">
    No sick phone on record. Name a symptom, and the looks that tell most a minute are proposed: another app first, a
    connector before a part.
  </p>
  <form v-if="writes && room.units.length && room.slots.length" class="new" @submit.prevent="open">
    <h2>A sick phone</h2>
    <div class="row">
      <select v-model="fresh.unit_id" aria-label="Phone">
        <option v-for="u in room.units" :key="u.id" :value="u.id">{{ u.name }}</option>
      </select>
      <input
        v-model="fresh.symptom"
        required
        maxlength="300"
        placeholder="symptom: picture flickers, half bright …"
        aria-label="Symptom"
      />
      <select v-model="fresh.check" aria-label="Check that shows it">
        <option v-for="c in room.checks" :key="c.mark" :value="c.mark">{{ c.name }}</option>
      </select>
      <select v-model="fresh.part_id" aria-label="Suspected module">
        <option v-for="s in room.slots" :key="s.id" :value="s.id">{{ s.name }}</option>
      </select>
      <ElButton native-type="submit" :disabled="busy">Look for it</ElButton>
    </div>
  </form>
</template>

<style scoped>
.case {
  border-bottom: 1px solid var(--line);
  padding-bottom: 12px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px;
}
.cause {
  display: grid;
  grid-template-columns: 60px 48px 1fr;
  gap: 8px;
  align-items: center;
  font-size: 15px;
}
.tries {
  margin: 0 0 8px;
  padding-left: 20px;
}
select,
input {
  font-size: 15px;
  padding: 5px;
  max-width: 210px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
}
@media (max-width: 700px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
