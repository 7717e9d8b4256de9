<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'

/** A whole document, put in as a new model: all of it or nothing. */
const router = useRouter()
const file = ref<File>()
const name = ref('')
const { problem, busy, mine, theirs, save } = useChange()
async function put() {
  const chosen = file.value
  if (!chosen) return
  const done = await save((_, header) =>
    take(
      api.POST('/api/documents', {
        params: { header, query: name.value.trim() ? { name: name.value.trim() } : {} },
        headers: { 'Content-Type': 'application/octet-stream' },
        body: chosen as unknown as string,
        bodySerializer: (b: unknown) => b as Blob,
      }),
    ),
  )
  if (done) await router.push({ name: 'ways', params: { id: done.model_id } })
}
</script>

<template>
  <form class="row doc" @submit.prevent="put">
    <label class="file">
      A whole document
      <input
        type="file"
        accept=".json,application/json"
        class="hidden"
        @change="file = ($event.target as HTMLInputElement).files?.[0]"
      />
    </label>
    <span class="quiet">{{ file?.name }}</span>
    <template v-if="file">
      <ElInput
        v-model="name"
        maxlength="80"
        placeholder="another name, if its own is taken"
        aria-label="Another name for the model"
      />
      <ElButton native-type="submit" type="primary" :loading="busy">Put it in as a new model</ElButton>
    </template>
  </form>
  <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
</template>

<style scoped>
.doc {
  margin-top: 14px;
}
.file {
  border: 1px solid var(--strong-line);
  padding: 6px 14px;
  cursor: pointer;
  font-size: 15px;
}
.file:focus-within {
  outline: 3px solid var(--amber-fill);
}
</style>
