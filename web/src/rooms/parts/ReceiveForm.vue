<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { fieldError, useChange } from '../../shared/useChange'

/** What came of a line: how many, how many of them good, bad or wrong, and where they lie. */
const props = defineProps<{ order: Schemas['OneOrder']; line: Schemas['OrdersLine'] }>()
const emit = defineEmits<{ close: [] }>()
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
const id = newId()
const place = useLocalStorage('waryowl-place', '')
const facts = reactive({ came: props.line.open || 1, good: 0, bad: 0, wrong: 0, lot: props.line.lot ?? '' })
const on = ref(new Date().toISOString().slice(0, 10))
const reasons = ref('')
const surplus = ref<'' | 'take' | 'return' | 'refuse'>('')
const unseen = computed(() => facts.came - facts.good - facts.bad - facts.wrong)
const over = computed(() => facts.came - facts.wrong - props.line.open)
const counts = [
  ['came', 'Came'],
  ['good', 'Looked at, and good'],
  ['bad', 'Bad'],
  ['wrong', 'Not what was ordered'],
] as const
const submit = () =>
  send((v, header) =>
    take(
      api.POST('/api/orders/{id}/receipts', {
        params: { path: { id: props.order.id }, header },
        body: {
          version: v ?? props.order.version,
          id,
          line: props.line.no,
          ...facts,
          surplus: surplus.value,
          place: place.value,
          on: `${on.value}T12:00:00Z`,
          reasons: reasons.value
            .split('\n')
            .map((x) => x.trim())
            .filter(Boolean),
        },
      }),
    ),
  )
</script>

<template>
  <FormDialog
    :title="`Receive: ${line.title}`"
    save="Book it"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <p class="quiet">{{ line.open }} of {{ line.quantity }} are still to come.</p>
    <div class="two">
      <ElFormItem v-for="[k, label] in counts" :key="k" :label="label" :error="fieldError(problem, k)">
        <ElInputNumber v-model="facts[k]" :min="0" :controls="false" :aria-label="label" style="width: 100%" />
      </ElFormItem>
      <ElFormItem label="Lot, as on the delivery" :error="fieldError(problem, 'lot')">
        <ElInput v-model="facts.lot" maxlength="40" aria-label="Lot, as on the delivery" />
      </ElFormItem>
      <ElFormItem label="Where they lie" :error="fieldError(problem, 'place')">
        <ElInput v-model="place" maxlength="60" aria-label="Where they lie" />
      </ElFormItem>
      <ElFormItem label="Came in on" :error="fieldError(problem, 'on')">
        <ElInput v-model="on" maxlength="10" placeholder="2026-11-26" aria-label="Came in on" />
      </ElFormItem>
      <ElFormItem v-if="over > 0" :label="`${over} more than were open`" :error="fieldError(problem, 'surplus')">
        <ElSelect v-model="surplus" :teleported="false" aria-label="What becomes of the rest">
          <ElOption value="take" label="taken in" />
          <ElOption value="return" label="sent back" />
          <ElOption value="refuse" label="refused at the door" />
        </ElSelect>
      </ElFormItem>
    </div>
    <ElFormItem v-if="facts.bad" label="Why, one a line">
      <ElInput v-model="reasons" type="textarea" :rows="2" aria-label="Why, one a line" />
    </ElFormItem>
    <p v-if="unseen > 0" class="quiet">{{ unseen }} not looked at yet: into quarantine until somebody does.</p>
    <p v-if="unseen < 0" class="danger">That is {{ -unseen }} more than came.</p>
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 14px;
}
@media (max-width: 600px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
