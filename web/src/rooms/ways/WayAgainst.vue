<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'

import { api, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { minutes } from '../../shared/format'
import { useRoom } from '../../shared/useRoom'

/** The way to a part beside the way to the part of the same name in another model. */
const props = defineProps<{ model: string; way: Schemas['ModelWay'] }>()
const other = ref('')
const typed = ref('')
/** A short list is searched here, one that goes on is searched by the server. */
const many = ref(false)
const { room: models } = useRoom(
  () => ['models', typed.value],
  () => api.GET('/api/models', { params: { query: { q: typed.value } } }),
)
watch(models, (list) => (many.value ||= list?.length === 50))
const others = computed(() => models.value?.filter((m) => m.id !== props.model) ?? [])
const { room: difference } = useRoom(
  () => ['against', props.model, props.way.part_id, other.value],
  () =>
    api.GET('/api/models/{id}/parts/{part}/against/{other}', {
      params: { path: { id: props.model, part: props.way.part_id, other: other.value } },
    }),
  { enabled: () => Boolean(other.value) },
)
</script>

<template>
  <section id="against" class="half">
    <h2>Against another model</h2>
    <ElSelect
      v-model="other"
      :teleported="false"
      filterable
      :remote="many"
      :remote-method="many ? (q: string) => (typed = q) : undefined"
      placeholder="Which model?"
      aria-label="Which model to compare with"
    >
      <ElOption v-for="m in others" :key="m.id" :value="m.id" :label="`${m.maker} ${m.name}`" />
    </ElSelect>
    <template v-if="difference">
      <AnswerLine plain :sentence="difference.answer" />
      <template v-if="difference.mine && difference.theirs">
        <p class="fig">
          {{ difference.mine.steps.length }} / {{ difference.theirs.steps.length }} steps, {{ difference.mine.depth }} /
          {{ difference.theirs.depth }} deep, {{ minutes(difference.mine.elapsed_minutes) }} /
          {{ minutes(difference.theirs.elapsed_minutes) }} in, {{ difference.mine.screws }} /
          {{ difference.theirs.screws }} screws
        </p>
        <p v-if="difference.tools.length">Tools only here: {{ difference.tools.join(', ') }}</p>
        <details>
          <summary>{{ difference.added.length }} steps only here, {{ difference.gone.length }} only there</summary>
          <ul>
            <li v-for="s in difference.added" :key="`+${s}`">here: {{ s }}</li>
            <li v-for="s in difference.gone" :key="`-${s}`" class="quiet">there: {{ s }}</li>
          </ul>
        </details>
      </template>
    </template>
  </section>
</template>

<style scoped></style>
