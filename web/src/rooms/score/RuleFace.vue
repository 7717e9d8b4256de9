<script setup lang="ts">
import { ElButton, ElFormItem, ElInput, ElOption, ElSelect, ElSlider } from 'element-plus'
import 'element-plus/theme-chalk/el-slider.css'

import { computed, ref, watch } from 'vue'

import { api, ApiError, newId, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { useSession } from '../../shared/session'
import ScoreRuler from './ScoreRuler.vue'
import { plainly, points } from './words'

/** A rule of one's own: a school with other weights, or a document; tried on this phone while it is made. */
const props = defineProps<{ room: Schemas['ScoreRoom'] }>()
const { may } = useSession()
const writes = may('rules')
const publishes = may('schools')
const base = ref('own-template')
const rule = ref<Schemas['SchoolRubric']>()
const text = ref('')
const asText = ref(false)
const tried = ref<Schemas['ScoreSchool']>()
const refused = ref('')
const { problem, busy, mine, theirs, save } = useChange()
const own = computed(() => props.room.schools.filter((s) => s.own))
const kept = computed(() => own.value.find((s) => s.score.rubric === base.value))

watch(
  base,
  async (name) => {
    const { data } = await api.GET('/api/rubrics/{name}', { params: { path: { name } } })
    if (!data) return
    const copy = structuredClone(data)
    if (!props.room.schools.some((s) => s.own && s.score.rubric === name)) {
      copy.id = `my-${name === 'own-template' ? 'rule' : name}`
      copy.title = name === 'own-template' ? 'My own method' : `My ${copy.title}`
      copy.version = '1'
    }
    rule.value = copy
    text.value = JSON.stringify(copy, null, 1)
  },
  { immediate: true },
)
function weigh(i: number, w: number) {
  rule.value!.criteria[i]!.weight = w
  text.value = JSON.stringify(rule.value, null, 1)
}
function named(field: 'id' | 'title' | 'version', value: string) {
  rule.value![field] = value
  text.value = JSON.stringify(rule.value, null, 1)
}
/** A document that was typed or read from a file moves the sliders as soon as it is one. */
function typed(value: string) {
  text.value = value
  try {
    const read = JSON.parse(value)
    if (Array.isArray(read?.criteria)) rule.value = read
  } catch {
    /* the trial says what is wrong */
  }
}
let timer: ReturnType<typeof setTimeout> | undefined
watch(text, () => {
  clearTimeout(timer)
  timer = setTimeout(async () => {
    try {
      tried.value = await take(
        api.POST('/api/models/{id}/score/try', {
          params: { path: { id: props.room.model.id } },
          body: { document: text.value },
        }),
      )
      refused.value = ''
    } catch (e) {
      if (!(e instanceof ApiError)) throw e
      tried.value = undefined
      refused.value =
        e.problem.errors?.map((x) => `${x.location.replace('body.document: ', '')}: ${x.message}`).join('; ') ||
        e.problem.detail
    }
  }, 300)
})
async function keep() {
  const id = kept.value?.own
  const done = id
    ? await save((v, header) =>
        take(
          api.PUT('/api/rubrics/{id}', {
            params: { path: { id }, header },
            body: { version: v ?? kept.value!.saw!, document: text.value },
          }),
        ),
      )
    : await save((_, header) =>
        take(api.POST('/api/rubrics', { params: { header }, body: { id: newId(), document: text.value } })),
      )
  if (done) base.value = done.name
}
const publish = (s: Schemas['ScoreSchool'], published: boolean) =>
  save((v, header) =>
    take(
      api.PUT('/api/rubrics/{id}/published', {
        params: { path: { id: s.own! }, header },
        body: { version: v ?? s.saw!, published },
      }),
    ),
  )
function download() {
  const a = document.createElement('a')
  a.href = URL.createObjectURL(new Blob([text.value], { type: 'application/json' }))
  a.download = `${rule.value?.id ?? 'rule'}.json`
  a.click()
  URL.revokeObjectURL(a.href)
}
async function open(e: Event) {
  const file = (e.target as HTMLInputElement).files?.[0]
  if (file) typed(await file.text())
}
const total = computed(() => rule.value?.criteria.reduce((s, c) => s + c.weight, 0) ?? 1)
</script>

<template>
  <section v-if="rule">
    <div class="row no-print">
      <ElFormItem label="Begin with" class="field">
        <ElSelect v-model="base" :teleported="false" aria-label="Begin with">
          <ElOption value="own-template" label="a few lines" />
          <ElOption v-for="s in room.schools" :key="s.score.rubric" :value="s.score.rubric" :label="s.title" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Its name" class="field">
        <ElInput
          :model-value="rule.title ?? ''"
          maxlength="80"
          aria-label="Its name"
          @update:model-value="named('title', $event)"
        />
      </ElFormItem>
      <ElFormItem label="Short, for files" class="field" :error="fieldError(problem, 'document: id')">
        <ElInput
          :model-value="rule.id"
          maxlength="60"
          aria-label="Short, for files"
          @update:model-value="named('id', $event)"
        />
      </ElFormItem>
      <ElFormItem label="Version" class="field" :error="fieldError(problem, 'document: version')">
        <ElInput
          :model-value="rule.version"
          maxlength="40"
          aria-label="Version"
          style="width: 90px"
          @update:model-value="named('version', $event)"
        />
      </ElFormItem>
    </div>
    <div class="tried" aria-live="polite">
      <template v-if="tried">
        <span class="fig">{{ points(tried.score.range, tried.digits) }}</span>
        of {{ tried.scale[1] }} by this rule
        <ScoreRuler :range="tried.score.range" :sure="tried.score.if_sure" :scale="tried.scale" :wide="240" />
      </template>
      <p v-else-if="refused" class="danger" role="alert">{{ refused }}</p>
    </div>
    <ul v-if="!asText" class="plain">
      <li v-for="(c, i) in rule.criteria" :key="c.id" class="weight">
        <span>
          {{ c.title ?? plainly(c.id) }}
          <span v-if="c.job" class="quiet">{{ c.job }}</span>
        </span>
        <ElSlider
          :model-value="c.weight"
          :min="0.1"
          :max="10"
          :step="0.1"
          :aria-label="`Weight of ${c.title ?? plainly(c.id)}`"
          @update:model-value="weigh(i, Number($event))"
        />
        <span class="fig">{{ Math.round((100 * c.weight) / total) }} %</span>
      </li>
    </ul>
    <ElInput
      v-else
      :model-value="text"
      type="textarea"
      :rows="24"
      aria-label="The rule as JSON"
      class="json"
      @update:model-value="typed"
    />
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <div class="row no-print">
      <ElButton v-if="writes" type="primary" :loading="busy" :disabled="!tried" @click="keep">
        {{ kept ? 'Save this version' : 'Save as a method of my own' }}
      </ElButton>
      <ElButton @click="asText = !asText">{{ asText ? 'Weights' : 'As a document' }}</ElButton>
      <ElButton @click="download">Download</ElButton>
      <label class="file">
        Read a file
        <input type="file" accept="application/json,.json" class="hidden" @change="open" />
      </label>
    </div>
  </section>
  <section v-if="own.length">
    <h2>Methods of our own</h2>
    <ul class="plain">
      <li v-for="s in own" :key="s.own" class="row">
        <b>{{ s.title }}</b>
        <span class="quiet">
          version {{ s.score.stamp.version }}, by {{ s.author }}, {{ s.draft ? 'a draft' : 'shown to everybody' }}
        </span>
        <ElButton v-if="publishes" @click="publish(s, s.draft)">{{ s.draft ? 'Publish' : 'Back to a draft' }}</ElButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.field {
  width: 165px;
  flex-direction: column;
}
.tried {
  min-height: 54px;
  border-block: 1px solid var(--line);
  padding: 8px 0;
  margin-bottom: 10px;
}
.tried .fig {
  font-size: 20px;
  font-weight: 600;
}
.weight {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 240px 52px;
  gap: 16px;
  align-items: center;
}
.json :deep(textarea) {
  font-family: var(--mono);
  font-size: 14px;
}
.file {
  border: 1px solid var(--strong-line);
  padding: 4px 14px;
  cursor: pointer;
  font-size: 14px;
}
.file:focus-within {
  outline: 3px solid var(--amber-fill);
}
@media (max-width: 600px) {
  .weight {
    grid-template-columns: minmax(0, 1fr) 52px;
  }
  .weight > :nth-child(2) {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
