<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'

/** A word of the workshop: what is said at the bench, and the part that it means from now on. */
defineProps<{ parts: Schemas['Part'][] }>()
const word = defineModel<string>('word', { required: true })
const emit = defineEmits<{ taught: [] }>()
const means = ref('')
const { problem, mine, theirs, busy, save } = useChange()
let id = newId()
async function teach() {
  const made = await save((_, header) =>
    take(
      api.POST('/api/words', {
        params: { header },
        body: { id, say: word.value.trim(), means: means.value, kind: 'part' },
      }),
    ),
  )
  if (!made) return
  id = newId()
  word.value = means.value = ''
  emit('taught')
}
</script>

<template>
  <form class="row teach" @submit.prevent="teach">
    <span>A word that was not read:</span>
    <ElInput v-model="word" class="word" maxlength="60" placeholder="mark it on the left" aria-label="The word" />
    <span>means</span>
    <ElSelect v-model="means" class="part" filterable placeholder="which part" aria-label="The part that it means">
      <ElOption v-for="p in parts" :key="p.id" :value="p.name" />
    </ElSelect>
    <ElButton native-type="submit" :disabled="!word.trim() || !means" :loading="busy">From now on</ElButton>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
  </form>
</template>

<style scoped>
.teach {
  align-items: center;
  padding: 10px 0;
}
.word {
  width: 190px;
}
.part {
  width: 220px;
}
</style>
