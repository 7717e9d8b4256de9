<script setup lang="ts">
import { ElButton, ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'

import { api, ApiError, once, take, type Problem, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import MergeField from '../../shared/MergeField.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'

/** What is known of a model: family, variants, size, seam, keep-out zones, and its own function checks. */
const props = defineProps<{ model: Schemas['Model']; checks: Schemas['Check'][] }>()
const emit = defineEmits<{ close: [] }>()
const { id, version, ...known } = JSON.parse(JSON.stringify(props.model)) as Schemas['Model']
const facts = reactive({
  ...known,
  opening: known.opening ?? {},
  keep_outs: known.keep_outs ?? [],
  variant_notes: known.variant_notes ?? [],
  check_changes: known.check_changes ?? [],
})
const list = (texts?: string[]) => (texts ?? []).join(', ')
const split = (text: string) =>
  text
    .split(',')
    .map((t) => t.trim())
    .filter(Boolean)
const aliases = ref(list(known.aliases))
const variants = ref(list(known.variants))
const notes = ref(facts.variant_notes.map((n) => ({ variant: n.variant, lacks: list(n.lacks), adds: list(n.adds) })))
const off = ref(facts.check_changes.filter((c) => c.off).map((c) => c.mark))
const own = reactive({ name: '', seconds: 15 })
const { room: models } = useRoom(['models'], () => api.GET('/api/models'))
const others = computed(() =>
  (models.value ?? []).filter((m) => m.id !== id).map((m) => ({ id: m.id, name: `${m.maker} ${m.name}` })),
)
const edges = ['top', 'right', 'bottom', 'left'] as const
const all = [
  ...props.checks.map((c) => ({ mark: c.mark, name: c.name })),
  ...off.value.map((mark) => ({ mark, name: mark })),
]
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
async function submit() {
  const check_changes: Schemas['CheckChange'][] = [
    ...facts.check_changes.filter((c) => !c.off),
    ...off.value.map((mark) => ({ mark, off: true })),
  ]
  if (own.name) {
    const mark = own.name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
    check_changes.push({ mark, name: own.name, seconds: own.seconds, group: 'of this model' })
  }
  await send((v, header) =>
    take(
      api.PUT('/api/models/{id}', {
        params: { path: { id }, header },
        body: {
          version: v ?? version,
          ...facts,
          aliases: split(aliases.value),
          variants: split(variants.value),
          variant_notes: notes.value
            .filter((n) => n.variant)
            .map((n) => ({ variant: n.variant, lacks: split(n.lacks), adds: split(n.adds) })),
          check_changes,
        },
      }),
    ),
  )
}
const picker = ref<HTMLInputElement>()
async function bring() {
  const file = picker.value?.files?.[0]
  if (!file) return
  await send(async () => {
    const answer = await fetch(`/api/models/${id}/plan`, {
      method: 'POST',
      headers: { ...once(), 'Content-Type': 'application/octet-stream' },
      body: file,
    })
    if (!answer.ok) throw new ApiError((await answer.json()) as Problem)
    return answer.json()
  })
}
</script>

<template>
  <FormDialog
    :title="`${model.maker} ${model.name}`"
    :width="720"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <div class="two">
      <ElFormItem label="Name" :error="fieldError(problem, 'name')">
        <ElInput v-model="facts.name" maxlength="80" />
      </ElFormItem>
      <ElFormItem label="Other names, with commas" :error="fieldError(problem, 'aliases')">
        <ElInput v-model="aliases" />
      </ElFormItem>
      <ElFormItem label="Family" :error="fieldError(problem, 'family')">
        <ElInput v-model="facts.family" maxlength="80" />
      </ElFormItem>
      <ElFormItem label="Predecessor" :error="fieldError(problem, 'predecessor')">
        <ElInput v-model="facts.predecessor" maxlength="80" />
      </ElFormItem>
      <ElFormItem label="Region variants, with commas" :error="fieldError(problem, 'variants')">
        <ElInput v-model="variants" />
      </ElFormItem>
      <ElFormItem label="Opens from" :error="fieldError(problem, 'entry')">
        <ElSelect v-model="facts.entry" :teleported="false" aria-label="Opens from">
          <ElOption v-for="e in ['front', 'back', 'dual']" :key="e" :value="e" :label="e" />
        </ElSelect>
      </ElFormItem>
    </div>
    <div v-for="(n, i) in notes" :key="i" class="row">
      <ElInput v-model="n.variant" :aria-label="`Variant ${i + 1}`" placeholder="variant" style="width: 30%" />
      <ElInput v-model="n.lacks" :aria-label="`Variant ${i + 1} lacks`" placeholder="lacks" style="width: 30%" />
      <ElInput v-model="n.adds" :aria-label="`Variant ${i + 1} adds`" placeholder="adds" style="width: 30%" />
    </div>
    <button type="button" class="bare link" @click="notes.push({ variant: '', lacks: '', adds: '' })">
      What a variant lacks or adds
    </button>
    <div class="row">
      <ElFormItem
        v-for="[k, l] in [
          ['width_mm', 'Width, mm'],
          ['height_mm', 'Height, mm'],
          ['thickness_mm', 'Thickness, mm'],
          ['mass_g', 'Mass, g'],
        ] as const"
        :key="k"
        :label="l"
        :error="fieldError(problem, k)"
      >
        <ElInputNumber v-model="facts[k]" :controls="false" :aria-label="l" style="width: 100px" />
      </ElFormItem>
    </div>
    <div class="row">
      <ElFormItem
        v-for="[k, l] in [
          ['hinge_edge', 'Hinge edge'],
          ['cable_edge', 'Cable edge'],
        ] as const"
        :key="k"
        :label="l"
      >
        <ElSelect v-model="facts.opening[k]" :teleported="false" clearable :aria-label="l" style="width: 120px">
          <ElOption v-for="e in edges" :key="e" :value="e" :label="e" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Largest angle, °" :error="fieldError(problem, 'opening')">
        <ElInputNumber
          v-model="facts.opening.max_angle"
          :controls="false"
          aria-label="Largest angle, °"
          style="width: 100px"
        />
      </ElFormItem>
      <ElFormItem label="Polarity of the electric release" :error="fieldError(problem, 'polarity')">
        <ElInput v-model="facts.polarity" maxlength="120" placeholder="plus on …, minus on …" />
      </ElFormItem>
    </div>
    <MergeField :id="id" kind="model" :choices="others" @merged="emit('close')" />
    <p class="quiet">How deep a pick may go, per stretch of the edge, mm:</p>
    <div v-for="(k, i) in facts.keep_outs" :key="i" class="row">
      <ElSelect v-model="k.edge" :teleported="false" :aria-label="`Stretch ${i + 1}, edge`" style="width: 100px">
        <ElOption v-for="e in edges" :key="e" :value="e" :label="e" />
      </ElSelect>
      <ElInputNumber v-model="k.from_mm" :controls="false" :aria-label="`Stretch ${i + 1} from`" style="width: 70px" />
      to
      <ElInputNumber v-model="k.to_mm" :controls="false" :aria-label="`Stretch ${i + 1} to`" style="width: 70px" />
      deep
      <ElInputNumber
        v-model="k.depth_mm"
        :controls="false"
        :aria-label="`Stretch ${i + 1} depth`"
        style="width: 70px"
      />
      <ElInput v-model="k.why" :aria-label="`Stretch ${i + 1}, why`" placeholder="why" style="width: 200px" />
      <button
        type="button"
        class="bare"
        :aria-label="`Take stretch ${i + 1} away`"
        @click="facts.keep_outs.splice(i, 1)"
      >
        ×
      </button>
    </div>
    <button
      type="button"
      class="bare link"
      @click="facts.keep_outs.push({ edge: 'top', from_mm: 0, to_mm: 20, depth_mm: 3 })"
    >
      Another stretch
    </button>
    <ElFormItem label="Checks that this model cannot have" :error="fieldError(problem, 'check_changes')">
      <ElSelect v-model="off" :teleported="false" multiple filterable aria-label="Checks that this model cannot have">
        <ElOption v-for="c in all" :key="c.mark" :value="c.mark" :label="c.name" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem label="A check of its own">
      <ElInput v-model="own.name" maxlength="60" placeholder="what is checked" style="width: 60%" />
      <ElInputNumber v-model="own.seconds" :controls="false" aria-label="Seconds of the check" style="width: 80px" />
      s
    </ElFormItem>
    <template #buttons>
      <input ref="picker" class="hidden" type="file" accept="application/json" aria-label="Plan file" @change="bring" />
      <ElButton @click="picker?.click()">Import a plan (JSON)</ElButton>
    </template>
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  column-gap: 14px;
}
</style>
