<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import { figure, minutes } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import TermWord from '../../shared/TermWord.vue'
import { useChange } from '../../shared/useChange'

/** What to try next on a sick phone, where the next swap stands otherwise: done, and still there or gone. */
const props = defineProps<{ fault: Schemas['SwapFaultView']; writes: boolean }>()
type Act = Schemas['Try']['act']
const { problem, mine, theirs, busy, save } = useChange()
const looked = computed(() => (props.fault.tries?.length ?? 0) > 0)
const cards = computed(() =>
  looked.value ? props.fault.next.slice(0, 3) : [{ act: 'as it is', minutes: 1, opens: false, bits: 0 }],
)
const else_ = ref<Act>()
async function tried(act: Act, stayed: boolean) {
  const f = props.fault
  const made = await save((v, header) =>
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
  if (made) else_.value = undefined
}
</script>

<template>
  <section id="next">
    <h2>Next</h2>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <ol class="plain">
      <li v-for="n in cards" :key="n.act" class="next">
        <span>
          {{ n.act }}
          <small class="quiet">
            <span class="fig">{{ minutes(n.minutes) }}</span>
            {{ n.opens ? 'with opening' : 'closed' }}
            <template v-if="n.bits">
              {{ ' · ' }}
              <span class="fig">{{ figure(n.bits, 'bits') }}</span>
              {{ ' ' }}
              <TermWord word="bits" />
            </template>
          </small>
        </span>
        <span v-if="writes" class="row">
          <ElButton :disabled="busy" :aria-label="`${n.act}: still there`" @click="tried(n.act as Act, true)">
            Still there
          </ElButton>
          <ElButton :disabled="busy" :aria-label="`${n.act}: gone`" @click="tried(n.act as Act, false)">Gone</ElButton>
        </span>
      </li>
    </ol>
    <p v-if="!cards.length" class="quiet">Nothing on the list tells more.</p>
    <div v-if="writes" class="row">
      <ElSelect
        v-model="else_"
        :teleported="false"
        placeholder="something else was tried"
        aria-label="What was tried"
        style="width: 190px"
      >
        <ElOption v-for="a in fault.acts" :key="a" :value="a" :label="a" />
      </ElSelect>
      <template v-if="else_">
        <ElButton :disabled="busy" @click="tried(else_, true)">Still there</ElButton>
        <ElButton :disabled="busy" @click="tried(else_, false)">Gone</ElButton>
      </template>
    </div>
  </section>
</template>

<style scoped>
.next {
  display: flex;
  gap: 10px;
  justify-content: space-between;
  align-items: flex-start;
}
small {
  display: block;
}
</style>
