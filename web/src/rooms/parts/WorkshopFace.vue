<script setup lang="ts">
import { ElButton, ElCheckbox, ElCheckboxGroup, ElForm, ElFormItem, ElInput, ElInputNumber } from 'element-plus'
import { computed, reactive } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import { fromMinor, toMinor } from '../../shared/money'
import ProblemNote from '../../shared/ProblemNote.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import DeskRows from './DeskRows.vue'
import type { Kept } from './rows'

/** What the office sets once and everybody uses. */
const props = defineProps<{ desk: Schemas['DeskDesk']; writes: boolean }>()
const w = props.desk.workshop
const facts = reactive({
  currency: w.currency,
  tax_shown: w.tax_shown ?? false,
  labour: fromMinor(w.labour_minor, w.currency),
  margin: fromMinor(w.min_margin_minor ?? 0, w.currency),
  fixed: fromMinor(w.donor_fixed_minor ?? 0, w.currency),
  charge_limit: w.charge_limit || 25,
  opening_hours: w.opening_hours ?? '',
  address: w.address ?? '',
  values: (w.function_values ?? []).map((f) => `${f.function} ${fromMinor(f.worth_minor, w.currency)}`).join('\n'),
  locale: w.locale ?? '',
  max_days: w.max_days || 21,
  visit_days: w.visit_days || 90,
  sign_off: [...(w.sign_off ?? [])],
  fill_goal: w.fill_goal || 0.95,
  donor_margin: w.donor_margin || 0.2,
  next_bench: w.next_bench?.slice(0, 10) ?? '',
})
/** A line says a function and what it is worth: face unlock 45.00. */
const values = () =>
  facts.values
    .split('\n')
    .map((l) => /^\s*(.+?)[\s:=]+(\d+(?:[.,]\d+)?)\s*$/.exec(l))
    .flatMap((m) =>
      m ? [{ function: m[1]!, worth_minor: toMinor(Number(m[2]!.replace(',', '.')), facts.currency) }] : [],
    )
const { problem, busy, mine, theirs, save } = useChange()
const submit = () =>
  save((v, header) =>
    take(
      api.PUT('/api/workshop', {
        params: { header },
        body: {
          version: v ?? props.desk.workshop.version,
          currency: facts.currency.toUpperCase(),
          tax_shown: facts.tax_shown,
          labour_minor: toMinor(facts.labour, facts.currency),
          min_margin_minor: toMinor(facts.margin, facts.currency),
          donor_fixed_minor: toMinor(facts.fixed, facts.currency),
          charge_limit: facts.charge_limit,
          opening_hours: facts.opening_hours,
          address: facts.address,
          function_values: values(),
          locale: facts.locale,
          max_days: facts.max_days,
          visit_days: facts.visit_days,
          sign_off: facts.sign_off,
          fill_goal: facts.fill_goal,
          donor_margin: facts.donor_margin,
          people: w.people ?? [],
          machines: w.machines ?? [],
          benches: w.benches ?? 0,
          ...(facts.next_bench ? { next_bench: `${facts.next_bench}T00:00:00Z` } : {}),
        },
      }),
    ),
  )
const { room: own } = useRoom(['words'], () => api.GET('/api/words'))
const words = computed(() => (own.value?.words ?? []) as unknown as Kept[])
const looks = [
  ['leads', 'leads, before a cover goes on'],
  ['cables', 'cables under the board'],
  ['films', 'films on lenses'],
  ['dust', 'dust on lenses'],
] as const
const figures = [
  ['labour', 'An hour at the bench', 'labour_minor'],
  ['margin', 'Least that a job must leave', 'min_margin_minor'],
  ['fixed', 'Postage and disposal of a donor', 'donor_fixed_minor'],
  ['charge_limit', 'Charge before a phone is opened, %', 'charge_limit'],
  ['max_days', 'Longest wait that is promised, days', 'max_days'],
  ['visit_days', 'Days until what an owner said is deleted, after hand-back', 'visit_days'],
  ['fill_goal', 'Share of jobs served from the shelf', 'fill_goal'],
  ['donor_margin', 'Share of a donor’s worth kept back', 'donor_margin'],
] as const
</script>

<template>
  <h1 class="answer ask">
    {{
      desk.workshop.version
        ? 'The workshop, as the office set it.'
        : 'Nothing was set yet: these are the house’s figures.'
    }}
  </h1>
  <div class="stage">
    <ElForm novalidate label-position="top" :disabled="!writes" @submit.prevent="submit">
      <div class="two">
        <ElFormItem label="Currency" :error="fieldError(problem, 'currency')">
          <ElInput v-model="facts.currency" maxlength="3" />
        </ElFormItem>
        <ElFormItem v-for="[k, l, f] in figures" :key="k" :label="l" :error="fieldError(problem, f)">
          <ElInputNumber v-model="facts[k]" :controls="false" :min="0" :aria-label="l" style="width: 100%" />
        </ElFormItem>
        <ElFormItem label="Opening hours" :error="fieldError(problem, 'opening_hours')">
          <ElInput v-model="facts.opening_hours" maxlength="120" />
        </ElFormItem>
        <ElFormItem label="Address, on orders" :error="fieldError(problem, 'address')">
          <ElInput v-model="facts.address" type="textarea" :rows="2" maxlength="300" />
        </ElFormItem>
        <ElFormItem label="What a lost function is worth, one a line" :error="fieldError(problem, 'function_values')">
          <ElInput v-model="facts.values" type="textarea" :rows="2" placeholder="face unlock 45.00" />
        </ElFormItem>
        <ElFormItem label="Next free bench" :error="fieldError(problem, 'next_bench')">
          <ElInput v-model="facts.next_bench" maxlength="10" placeholder="2026-11-27" />
        </ElFormItem>
        <ElFormItem label="Numbers and dates as in (empty: the reader’s own)" :error="fieldError(problem, 'locale')">
          <ElInput v-model="facts.locale" maxlength="20" placeholder="en" />
        </ElFormItem>
        <ElCheckbox v-model="facts.tax_shown" label="Prices are with tax" />
        <fieldset>
          <legend>Another person looks at an apprentice’s work at</legend>
          <ElCheckboxGroup v-model="facts.sign_off">
            <ElCheckbox v-for="[k, l] in looks" :key="k" :value="k" :label="l" />
          </ElCheckboxGroup>
        </fieldset>
      </div>
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <ElButton v-if="writes" type="primary" native-type="submit" :loading="busy">Save</ElButton>
    </ElForm>
  </div>
  <div class="shelf">
    <DeskRows
      id="words"
      kind="word"
      title="The workshop’s own words"
      :desk="desk"
      :rows="words"
      :heads="['Said', 'Means', 'A']"
      :cells="(r) => [String(r.say), String(r.means), String(r.kind)]"
      :writes="writes"
    />
    <p class="quiet">
      The bench line learns them when somebody answers what was meant; they are read in every line from then on.
    </p>
  </div>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 18px;
}
@media (max-width: 600px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
