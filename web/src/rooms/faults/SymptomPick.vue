<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { ElInput } from 'element-plus'
import { computed, onMounted, ref } from 'vue'

import { api, type Schemas } from '../../api/client'
import { useRoom } from '../../shared/useRoom'

/** The symptom from a list that is searched as people say it: "dead", "no charge", "black screen". */
const props = defineProps<{ said: string; symptoms: Schemas['FaultsSymptom'][]; writes: boolean }>()
const emit = defineEmits<{ choose: [symptom: string] }>()
const words = ref(props.said)
const asked = refDebounced(words, 150)
const { room: found } = useRoom(
  () => ['symptoms', asked.value],
  () => api.GET('/api/symptoms', { params: { query: { q: asked.value.slice(0, 200) } } }),
)
const list = computed(() => (found.value?.length ? found.value : props.symptoms))
const field = ref<{ focus: () => void }>()
onMounted(() => field.value?.focus())
function key(e: KeyboardEvent | Event) {
  if (!(e instanceof KeyboardEvent) || e.key !== 'Enter' || !list.value[0]) return
  emit('choose', list.value[0].id)
}
</script>

<template>
  <section>
    <h2>The symptom</h2>
    <ElInput
      ref="field"
      v-model="words"
      size="large"
      maxlength="200"
      aria-label="The symptom, as people say it"
      placeholder="dead, no charge, black screen …"
      @keydown="key"
    />
    <p v-if="words && found && !found.length" class="quiet">No symptom is called so; all of them:</p>
    <ul class="plain">
      <li v-for="(s, i) in list" :key="s.id">
        <button type="button" class="bare pick" :disabled="!writes" @click="emit('choose', s.id)">
          <b>{{ s.id }}</b>
          <span class="quiet">{{ s.said.slice(0, 3).join(', ') }}</span>
          <span v-if="!i && words" class="keys">Enter</span>
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.pick {
  display: flex;
  gap: 12px;
  align-items: baseline;
  flex-wrap: wrap;
  width: 100%;
  min-height: 44px;
  padding: 8px 4px;
  text-align: left;
}
</style>
