<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { percent } from '../../shared/format'
import VerdictMark from '../../shared/VerdictMark.vue'
import { say } from '../../words'

const props = defineProps<{ verdict: Schemas['LedgerVerdict']; room: Schemas['SwapRoom'] }>()
defineEmits<{ close: [] }>()
const check = computed(() => props.room.checks.find((c) => c.mark === props.verdict.check)?.name ?? props.verdict.check)
/** What each board makes of it, by the stickers of the phones. */
const boards = computed(() =>
  Object.entries(props.verdict.boards ?? {}).map(([id, b]) => ({
    name: props.room.units.find((u) => u.id === id)?.name ?? id,
    ...b,
  })),
)
/** One board loses it and another does not: then each is said. */
const differ = computed(() => boards.value.some((b) => b.lost) && boards.value.some((b) => !b.lost))
/** The likeliest explanations of the check, where nothing is settled. */
const likely = computed(
  () => props.room.reports.find((r) => r.check.mark === props.verdict.check)?.suspects.slice(0, 3) ?? [],
)
const others = computed(() =>
  (props.room.rows.find((r) => r.part === props.verdict.slot && r.state === props.verdict.state)?.others ?? []).flatMap(
    (o) => o.verdicts.filter((v) => v.check === props.verdict.check).map((v) => ({ build: o.build, ...v })),
  ),
)
const title = (mark: string) => props.room.trials.find((t) => t.mark === mark)?.title ?? props.room.titles[mark] ?? ''
</script>

<template>
  <section class="evidence" aria-live="polite">
    <h2>{{ verdict.slot }}, {{ say('state', verdict.state) }}: {{ check }}</h2>
    <p class="row">
      <EvidenceEye :state="verdict.eye" :size="30" />
      <VerdictMark :mark="verdict.mark" />
      <span v-if="verdict.p !== undefined">
        loses the function with
        <span class="fig">{{ percent(verdict.p) }}</span>
      </span>
    </p>
    <ul class="plain">
      <li v-for="t in verdict.for" :key="t">
        <b>{{ t }}</b>
        lost with it: {{ title(t) }}
      </li>
      <li v-for="t in verdict.against" :key="t">
        <b>{{ t }}</b>
        passed with it: {{ title(t) }}
      </li>
    </ul>
    <p v-if="verdict.with" class="quiet">
      {{
        verdict.how === 'parted'
          ? `Lost when the two are parted: move the ${verdict.slot} together with the ${verdict.with}.`
          : `Lost only when the ${verdict.with} is another phone's too: not both.`
      }}
    </p>
    <p v-if="verdict.mark === 'works' && verdict.scope" class="quiet">
      {{
        verdict.scope === 'alone'
          ? 'Works alone: it passed by itself; nobody tried it in company.'
          : 'Works in company: it passed, or was cleared, beside other parts that were not its own.'
      }}
      <template v-if="verdict.rate && !verdict.rate.lost && verdict.rate.of < 5">
        {{ verdict.rate.of === 1 ? 'One pass does' : `${verdict.rate.of} passes do` }} not exclude that it comes and
        goes.
      </template>
    </p>
    <ul v-if="differ" class="plain">
      <li v-for="b in boards" :key="b.name">
        on the {{ b.name }} board: {{ say('verdict', b.verdict) }}, lost {{ b.lost }} of {{ b.of }}
      </li>
    </ul>
    <ul v-if="verdict.mark === 'not settled' && likely.length" class="plain">
      <li v-for="s in likely" :key="s.words" class="quiet">
        {{ s.words }}
        <span class="fig">{{ percent(s.p) }}</span>
      </li>
    </ul>
    <p v-if="verdict.missing.length" class="quiet">
      Still missing for proof: {{ verdict.missing.map((m) => m.text).join('; ') }}.
    </p>
    <p v-if="verdict.note" class="quiet">{{ verdict.note }}.</p>
    <ul v-if="others.length" class="plain">
      <li v-for="o in others" :key="o.build" class="row">
        build {{ o.build }}:
        <EvidenceEye :state="o.eye" :size="20" />
        <VerdictMark :mark="o.mark" />
        <span v-if="o.p !== undefined" class="quiet fig">{{ percent(o.p) }}</span>
        <span class="quiet">aged: a newer build was seen</span>
      </li>
    </ul>
    <ElButton size="small" @click="$emit('close')">Close</ElButton>
  </section>
</template>

<style scoped>
.evidence {
  border: 1px solid var(--ink);
  padding: 12px 14px;
}
</style>
