<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'

/** Pairs that the reading asks about as "only together", besides the mates: who suspects one names it. */
const props = defineProps<{ room: Schemas['SwapRoom']; writes: boolean }>()
const { problem, mine, theirs, busy, save } = useChange()
const a = ref('')
const b = ref('')
async function put(pairs: string[][]) {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  const { id, version, model_id: _model, ...facts } = props.room.study
  return save((v, header) =>
    take(
      api.PUT('/api/studies/{id}', {
        params: { path: { id }, header },
        body: { version: v ?? version, ...facts, pairs },
      }),
    ),
  )
}
const all = () => props.room.study.pairs ?? []
async function add() {
  if (await put([...all(), [a.value, b.value]])) a.value = b.value = ''
}
</script>

<template>
  <section id="pairs">
    <h2>Perhaps lost only together</h2>
    <p class="quiet">
      Every pair of parts is looked at; pairs that the model names, and those that you name here, are taken for
      likelier. Name another that you suspect.
    </p>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <ul class="plain">
      <li v-for="(p, i) in all()" :key="p.join()" class="row">
        {{ p.join(' and ') }}
        <button v-if="writes" class="bare link" @click="put(all().filter((_, k) => k !== i))">take out</button>
      </li>
    </ul>
    <form v-if="writes && room.slots.length > 1" class="row" @submit.prevent="add">
      <ElSelect v-model="a" :teleported="false" filterable aria-label="One part of the pair" style="width: 170px">
        <ElOption v-for="s in room.slots" :key="s.id" :value="s.name" :label="s.name" :disabled="s.name === b" />
      </ElSelect>
      and
      <ElSelect v-model="b" :teleported="false" filterable aria-label="The other part" style="width: 170px">
        <ElOption v-for="s in room.slots" :key="s.id" :value="s.name" :label="s.name" :disabled="s.name === a" />
      </ElSelect>
      <ElButton native-type="submit" :disabled="!a || !b || busy">Ask about it</ElButton>
    </form>
  </section>
</template>
