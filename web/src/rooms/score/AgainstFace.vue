<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import { api, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import ModelSelect from '../../shared/ModelSelect.vue'
import { useRoom } from '../../shared/useRoom'
import ScoreRuler from './ScoreRuler.vue'
import { points } from './words'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** Models beside each other under each school: who is above whom, whatever is still open and whatever the weights. */
const props = defineProps<{ room: Schemas['ScoreRoom'] }>()
const added = ref<string[]>([])
const within = ref(0)
const more = computed({
  get: () => '',
  set: (id: string) => {
    if (id && id !== props.room.model.id && !list.value.includes(id)) added.value = [...list.value, id].slice(0, 7)
  },
})
const id = props.room.model.id
const { room: against, error } = useRoom(
  () => ['score-against', id, added.value.join(), within.value],
  () =>
    api.GET('/api/models/{id}/score/against', {
      params: { path: { id }, query: { with: added.value.join(), within: within.value } },
    }),
)
const list = computed(() => (against.value?.models ?? []).map((m) => m.id).filter((m) => m !== id))
const name = (m: string) => against.value?.models.find((x) => x.id === m)?.name ?? m
const ranks = (r: readonly number[]) => (r[0] === r[1] ? `place ${r[0]}` : `place ${r[0]} to ${r[1]}`)
/** Classes follow each other: more than two are told by the first and the last. */
const classes = (list: readonly string[]) =>
  list.length > 2 ? `, ${list[0]} to ${list.at(-1)}` : list.map((c, i) => (i ? ` or ${c}` : `, ${c}`)).join('')
function drop(m: string) {
  added.value = list.value.filter((x) => x !== m)
}
type Standing = Schemas['ScoreAgainst']['fields'][number]['standings'][number]
const columns: Column<Standing>[] = [
  { id: 'model', title: 'Model', value: (x) => name(x.model) },
  { id: 'range', title: 'Range', value: (x) => x.range[0] },
  {
    id: 'points',
    title: 'Points',
    kind: 'number',
    value: (x) => x.range[1],
    text: (x) => points(x.range, 1) + classes(x.classes),
  },
  { id: 'place', title: 'Place', value: (x) => x.rank[0], text: (x) => ranks(x.rank) },
]
</script>

<template>
  <p v-if="error" role="alert">{{ error.message }}</p>
  <section v-else-if="against" id="against">
    <AnswerLine plain :sentence="against.answer" class="says" />
    <div class="row no-print">
      <ModelSelect v-model="more" label="One more model" :without="id" class="pick" />
      <ElSelect v-model="within" :teleported="false" aria-label="How far the weights may be off" class="pick">
        <ElOption :value="0" label="any weights" />
        <ElOption :value="0.3" label="weights up to 30 % off" />
        <ElOption :value="0.1" label="weights up to 10 % off" />
      </ElSelect>
      <button v-for="m in list" :key="m" class="bare link" :aria-label="`Leave out ${name(m)}`" @click="drop(m)">
        {{ name(m) }} ×
      </button>
    </div>
    <div v-for="f in against.fields" :key="f.rubric" class="field">
      <h2>{{ f.title }}</h2>
      <DataTable
        :name="f.rubric"
        :caption="f.title"
        plain
        :rows="f.standings"
        :columns="columns"
        :row-key="(x) => x.model"
        :here="(x) => x.model === id"
      >
        <template #range="{ row: x }">
          <ScoreRuler :range="x.range" :sure="x.if_sure" :scale="f.scale" :wide="240" />
        </template>
        <template #place="{ row: x }">
          {{ ranks(x.rank) }}
          <span v-if="x.rank_any.join() !== x.rank.join()" class="quiet">{{ ranks(x.rank_any) }}, any weights</span>
        </template>
      </DataTable>
      <p v-for="t in f.says" :key="t" class="quiet">{{ t }}</p>
    </div>
  </section>
</template>

<style scoped>
.says {
  font-size: 18px;
  border: 0;
  padding: 0;
  margin: 0 0 4px;
}
.pick {
  width: 220px;
}
.field {
  margin: 16px 0 20px;
}
.field h2 {
  font-size: 15px;
  border-bottom: 1px solid var(--line);
  padding-bottom: 4px;
}
.field td {
  padding: 4px 8px 4px 0;
  vertical-align: middle;
  border: 0;
}
.field p {
  margin: 2px 0;
  font-size: 15px;
}
.who {
  width: 190px;
}
.me .who {
  font-weight: 600;
}
.place {
  white-space: nowrap;
}
.place span {
  display: block;
  font-size: 14px;
}
.link {
  color: var(--slate);
  cursor: pointer;
  min-height: 28px;
}
@media (max-width: 600px) {
  .field td {
    display: block;
    width: auto;
    text-align: left;
  }
}
</style>
