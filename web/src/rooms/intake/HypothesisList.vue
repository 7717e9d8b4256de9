<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { say } from '../../words'

/** Statements that the study is to settle, each with where it comes from, closed as confirmed, refuted or left open. */
const props = defineProps<{
  study: Schemas['Study']
  questions: Schemas['StudyQuestion'][]
  checks: Schemas['Check'][]
  slots: Schemas['Part'][]
  writes: boolean
}>()
/** What the swaps say about a statement; a proven verdict closes it. */
const answered = (i: number) => props.questions[i]
type Hypothesis = Schemas['Hypothesis']
const sources = ['measured', 'observed once', 'inferred by look', 'rumour', 'third party', 'interested party'] as const
const { problem, mine, theirs, busy, save } = useChange()
const fresh = reactive({ text: '', source: 'rumour' as Hypothesis['source'] })
async function put(hypotheses: Hypothesis[]) {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  const { id, version, model_id: _model, ...facts } = props.study
  return save((v, header) =>
    take(
      api.PUT('/api/studies/{id}', {
        params: { path: { id }, header },
        body: { version: v ?? version, ...facts, hypotheses },
      }),
    ),
  )
}
const all = () => props.study.hypotheses ?? []
const change = (i: number, h: Partial<Hypothesis>) => put(all().map((x, k) => (k === i ? { ...x, ...h } : x)))
/** Links a statement to what settles it; what was found in its words is kept. */
const link = (i: number, to: Partial<Hypothesis>) => {
  const q = answered(i)
  return change(i, { part_id: q?.part_id, check: q?.check, claim: q?.claim ?? 'loses', ...to })
}
async function add() {
  if (await put([...all(), { ...fresh, state: 'open' }])) fresh.text = ''
}
</script>

<template>
  <section id="hypotheses">
    <h2>To confirm or refute</h2>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <ul class="plain">
      <li v-for="(h, i) in study.hypotheses ?? []" :key="i">
        {{ h.text }}
        <small class="quiet">
          {{ h.source }}{{ h.evidence ? `; ${h.evidence}` : '' }}
          <template v-if="answered(i)?.part">
            — another phone’s {{ answered(i)!.part }} {{ say('verdict', answered(i)!.verdict ?? 'untested')
            }}{{ answered(i)!.trials.length ? ` (${answered(i)!.trials.join(', ')})` : '' }}
          </template>
        </small>
        <div v-if="writes" class="row">
          <ElSelect
            :model-value="answered(i)?.part_id ?? ''"
            :teleported="false"
            size="small"
            clearable
            filterable
            placeholder="about which part"
            :aria-label="`Part of: ${h.text}`"
            style="width: 150px"
            @update:model-value="(part_id: string) => link(i, { part_id })"
          >
            <ElOption v-for="p in slots" :key="p.id" :value="p.id" :label="p.name" />
          </ElSelect>
          <ElSelect
            :model-value="answered(i)?.check ?? ''"
            :teleported="false"
            size="small"
            clearable
            filterable
            placeholder="and which check"
            :aria-label="`Check of: ${h.text}`"
            style="width: 190px"
            @update:model-value="(check: string) => link(i, { check })"
          >
            <ElOption v-for="c in checks" :key="c.mark" :value="c.mark" :label="c.name" />
          </ElSelect>
          <ElSelect
            v-if="answered(i)?.check"
            :model-value="answered(i)?.claim ?? 'loses'"
            :teleported="false"
            size="small"
            :aria-label="`Claim of: ${h.text}`"
            style="width: 150px"
            @update:model-value="(claim: Hypothesis['claim']) => link(i, { claim })"
          >
            <ElOption value="loses" label="another phone's loses it" />
            <ElOption value="works" label="another phone's works" />
          </ElSelect>
        </div>
        <p v-if="answered(i)?.settled" class="row closed">
          <EvidenceEye state="open" label="proven" :size="20" />
          {{ answered(i)!.state }} by the swaps
        </p>
        <div v-else class="row">
          <ElSelect
            :model-value="h.state"
            :teleported="false"
            :disabled="!writes || busy"
            size="small"
            :aria-label="`State of: ${h.text}`"
            style="width: 120px"
            @update:model-value="(state: Hypothesis['state']) => change(i, { state })"
          >
            <ElOption v-for="s in ['open', 'confirmed', 'refuted']" :key="s" :value="s" :label="s" />
          </ElSelect>
          <ElInput
            v-if="writes"
            :model-value="h.evidence"
            size="small"
            maxlength="300"
            placeholder="what speaks for it"
            :aria-label="`Evidence for: ${h.text}`"
            style="flex: 1"
            @change="(evidence: string) => change(i, { evidence })"
          />
        </div>
      </li>
    </ul>
    <form v-if="writes" class="row" @submit.prevent="add">
      <ElInput
        v-model="fresh.text"
        maxlength="300"
        placeholder="A statement to settle"
        aria-label="A statement to settle"
        style="flex: 1"
      />
      <ElSelect v-model="fresh.source" :teleported="false" aria-label="Where it comes from" style="width: 150px">
        <ElOption v-for="s in sources" :key="s" :value="s" :label="s" />
      </ElSelect>
      <ElButton native-type="submit" :disabled="!fresh.text || busy">Add</ElButton>
    </form>
  </section>
</template>

<style scoped>
small {
  display: block;
}
</style>
