<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { percent } from '../../shared/format'
import OddsBar from '../../shared/OddsBar.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'

/** A sick phone: from a symptom, one look after the other, to its cause, or to an open question. */
const props = defineProps<{ room: Schemas['SwapRoom']; faults: Schemas['SwapFaultView'][]; writes: boolean }>()
const chosen = defineModel<string>('chosen', { required: true })
const { problem, mine, theirs, busy, save } = useChange()
const fresh = reactive({
  symptom: '',
  unit_id: props.room.units[0]?.id ?? '',
  check: props.room.checks[0]?.mark ?? '',
  part_id: props.room.slots[0]?.id ?? '',
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
  if (!made) return
  fresh.symptom = ''
  chosen.value = made.id
}
</script>

<template>
  <form v-if="writes && room.units.length && room.slots.length" @submit.prevent="open">
    <h2>What is wrong with it?</h2>
    <div class="row fields">
      <ElInput
        v-model="fresh.symptom"
        maxlength="300"
        placeholder="the symptom: picture flickers, half bright …"
        aria-label="Symptom"
        class="wide"
      />
      <ElSelect v-model="fresh.unit_id" :teleported="false" aria-label="Phone" style="width: 120px">
        <ElOption v-for="u in room.units" :key="u.id" :value="u.id" :label="u.name" />
      </ElSelect>
      <ElSelect
        v-model="fresh.check"
        :teleported="false"
        filterable
        aria-label="Check that shows it"
        style="width: 210px"
      >
        <ElOption v-for="c in room.checks" :key="c.mark" :value="c.mark" :label="c.name" />
      </ElSelect>
      <ElSelect
        v-model="fresh.part_id"
        :teleported="false"
        filterable
        aria-label="Suspected module"
        style="width: 170px"
      >
        <ElOption v-for="s in room.slots" :key="s.id" :value="s.id" :label="s.name" />
      </ElSelect>
      <ElButton type="primary" native-type="submit" :disabled="busy || !fresh.symptom">Look for it</ElButton>
    </div>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
  </form>
  <p v-if="!faults.length" class="quiet">
    No sick phone on record. Name a symptom, and the looks that tell most a minute are proposed: another app first, a
    connector before a part.
  </p>
  <section v-for="f in faults" :key="f.id" class="case" :class="{ here: f.id === chosen }">
    <AnswerLine v-if="f.id !== chosen" :sentence="f.answer" plain />
    <h3 v-else>{{ room.units.find((u) => u.id === f.unit_id)?.name }}, “{{ f.symptom }}”</h3>
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
        <p v-else class="quiet">Nothing was tried yet.</p>
        <ElButton v-if="f.id !== chosen && faults.length > 1" size="small" @click="chosen = f.id">
          Go on with this one
        </ElButton>
      </div>
    </div>
  </section>
</template>

<style scoped>
form {
  margin-bottom: 18px;
}
.fields {
  align-items: center;
}
.wide {
  flex: 1 1 260px;
}
.case {
  border-bottom: 1px solid var(--line);
  padding: 0 0 12px 12px;
}
.case.here {
  border-left: 3px solid var(--pine);
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
h3 {
  font-size: 15px;
  padding: 6px 0;
}
.tries {
  margin: 0 0 8px;
  padding-left: 20px;
}
@media (max-width: 700px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
