<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref } from 'vue'

import type { Schemas } from '../../api/client'
import StickerTag from '../../shared/StickerTag.vue'

/** What was said comes in: captions of a film as files, in order, or words that are pasted or dictated. */
defineProps<{ units: Schemas['Unit'][]; busy: boolean }>()
const unit = defineModel<string>('unit', { required: true })
const text = defineModel<string>('text', { required: true })
const emit = defineEmits<{ read: []; began: [at: Date]; film: [file: File] }>()
const over = ref(false)
async function take(files: FileList | null | undefined) {
  over.value = false
  for (const f of [...(files ?? [])].sort((a, b) => a.name.localeCompare(b.name))) {
    if (/^(video|audio)\//.test(f.type)) emit('film', f)
    else {
      text.value = [text.value.trim(), await f.text()].filter(Boolean).join('\n---\n')
      emit('began', new Date(f.lastModified))
    }
  }
}
</script>

<template>
  <form
    class="in"
    :class="{ over }"
    @submit.prevent="emit('read')"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="take($event.dataTransfer?.files)"
  >
    <p class="row">
      <label class="file">
        Choose the captions of a film, or drop them here
        <input
          type="file"
          multiple
          accept=".vtt,.srt,.txt,text/*,video/*,audio/*"
          @change="take(($event.target as HTMLInputElement).files)"
        />
      </label>
      <span class="quiet">
        Several are read in the order of their names. A film or sound file plays beside the text; it stays on this
        device.
      </span>
    </p>
    <label>
      Or paste it, or dictate into this field with the keyboard's own dictation
      <ElInput
        v-model="text"
        type="textarea"
        :rows="12"
        maxlength="900000"
        placeholder="[0:05] two five-lobe screws out at the bottom
[0:20] rear glass off"
        aria-label="What was said"
      />
    </label>
    <div class="row" role="radiogroup" aria-label="Which phone lay there at the start">
      <span>The phone at the start:</span>
      <label v-for="u in units" :key="u.id" class="pick">
        <input v-model="unit" type="radio" :value="u.id" />
        <StickerTag :unit="u" />
      </label>
    </div>
    <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!text.trim() || !unit">
      Read what was said
    </ElButton>
  </form>
</template>

<style scoped>
.in {
  grid-column: 1 / -1;
  max-width: 860px;
  display: grid;
  gap: 14px;
  justify-items: start;
}
.in > label {
  width: 100%;
}
.over {
  outline: 2px dashed var(--ink);
  outline-offset: 8px;
}
.file,
.pick {
  min-height: 44px;
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
</style>
