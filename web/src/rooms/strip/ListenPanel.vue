<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { nextTick, onMounted, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import StickerTag from '../../shared/StickerTag.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { entering, untouched } from '../narration/accept'
import type { Taken } from '../narration/taken'

/**
 * In the line's place: what is dictated into the field, by the keyboard's own dictation, is split where the speaker pauses
 * and proposed at once. No sound is recorded or sent anywhere.
 */
const props = defineProps<{ study: string; unit: Schemas['Unit'] }>()
const emit = defineEmits<{ close: [] }>()
/** How long a pause ends what was said, in milliseconds (house). */
const pause = 1500
const text = ref('')
const field = ref<HTMLTextAreaElement>()
const said = ref<{ offer: Schemas['StripOffer']; taken: Taken; words: string; at: Date }[]>([])
const { problem, mine, theirs, busy, queue } = useChange()
onMounted(() => nextTick(() => field.value?.focus()))
const hear = useDebounceFn(async () => {
  const words = text.value.trim()
  if (!words) return
  text.value = ''
  const at = new Date()
  const heard = await queue(() =>
    take(
      api.POST('/api/studies/{id}/narration/look', {
        params: { path: { id: props.study } },
        body: { text: words, unit_id: props.unit.id },
      }),
    ),
  )
  if (!heard) {
    text.value = [words, text.value].filter(Boolean).join(' ')
    return
  }
  const found = heard.proposals.filter((o) => o.acted && !o.withdrawn_by)
  for (const offer of found) said.value.push({ offer, taken: untouched(offer, newId()), words, at })
  if (!found.length)
    said.value.push({
      offer: { ...none, id: newId(), unit_id: props.unit.id, say: 'note' },
      taken: { state: '', line: '', unit: props.unit.id, mended: false, id: newId() },
      words,
      at,
    })
}, pause)
/** Words of which nothing was read: they can be kept as a note. */
const none = { enter: '', which: [], doubts: [] } as unknown as Schemas['StripOffer']
let recording = newId()
/** Logs what is said yes to; without a name, all that is sure. */
let asked: typeof said.value = []
async function yes(list: typeof said.value, stops?: 'already done') {
  const lines = list.filter((s) => s.taken.line || !s.offer.which.length)
  if (!lines.length) return
  asked = lines
  const began = new Date(Math.min(...lines.map((s) => s.at.getTime())))
  const made = await queue((_, header) =>
    take(
      api.POST('/api/studies/{id}/narration', {
        params: { path: { id: props.study }, header },
        body: {
          recording,
          began: began.toISOString(),
          ...(stops ? { stops } : {}),
          lines: lines.map((s) => entering(s.offer, s.taken, s.words, (s.at.getTime() - began.getTime()) / 1000)),
        },
      }),
    ),
  )
  if (!made) return
  recording = newId()
  said.value = said.value.filter((s) => !lines.includes(s))
  field.value?.focus()
}
const no = (s: (typeof said.value)[number]) => {
  said.value = said.value.filter((x) => x !== s)
  field.value?.focus()
}
function which(s: (typeof said.value)[number], line: string) {
  s.taken.line = line
  void yes([s])
}
const sure = () =>
  said.value.filter((s) => s.offer.enter && !s.offer.logged && !s.offer.doubts.length && !s.offer.which.length)
</script>

<template>
  <form class="listen no-print" aria-label="Listen" @submit.prevent="yes(sure())">
    <ProblemNote v-if="!fieldError(problem, 'stops')" :problem="problem" :mine="mine" @theirs="theirs" />
    <p v-else class="look" role="alert">
      {{ fieldError(problem, 'stops') }}
      <ElButton @click="yes(asked, 'already done')">It was done when I said it: log them</ElButton>
    </p>
    <ul v-if="said.length" class="plain" aria-live="polite">
      <li v-for="s in said" :key="s.taken.id">
        <span>
          <b>{{ s.offer.say }}</b>
          <small class="quiet">“{{ s.words }}”</small>
          <small v-if="s.offer.logged" class="look">{{ s.offer.logged }}</small>
          <small v-for="d in s.offer.doubts" :key="d.code" class="look">{{ d.text }}</small>
        </span>
        <span v-if="s.offer.which.length" class="row">
          which?
          <ElButton v-for="w in s.offer.which" :key="w.name" @click="which(s, w.line)">{{ w.name }}</ElButton>
        </span>
        <ElButton v-else :loading="busy" @click="yes([s])">yes</ElButton>
        <ElButton @click="no(s)">no</ElButton>
      </li>
    </ul>
    <div class="bar" :class="unit.colour">
      <StickerTag :unit="unit" />
      <textarea
        ref="field"
        v-model="text"
        rows="1"
        maxlength="4000"
        aria-label="What is dictated"
        placeholder="Dictate here"
        @input="hear()"
        @keydown.enter.exact.prevent="yes(sure())"
        @keydown.esc="emit('close')"
      />
      <span class="quiet hint">
        a pause proposes what was said;
        <span class="keys">Enter</span>
        logs what is sure
      </span>
      <ElButton @click="emit('close')">Type instead</ElButton>
    </div>
  </form>
</template>

<style scoped>
.listen {
  position: fixed;
  left: 0;
  right: 0;
  bottom: 0;
  z-index: 15;
  background: var(--ground);
  border-top: 1px solid var(--ink);
  max-height: 60vh;
  overflow-y: auto;
}
.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 56px;
  padding: 0 20px;
  border-left: 14px solid var(--sticker);
}
textarea {
  flex: 1;
  min-width: 0;
  min-height: 40px;
  font: inherit;
  font-size: 17px;
  padding: 8px 10px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
}
ul {
  margin: 0;
  padding: 6px 20px 6px 34px;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 10px;
  align-items: center;
  min-height: 48px;
}
li :deep(.el-button) {
  min-height: 44px;
}
small {
  display: block;
}
.hint {
  white-space: nowrap;
  font-size: 14px;
}
@media (max-width: 900px) {
  .hint {
    display: none;
  }
  .bar {
    padding: 0 10px;
    flex-wrap: wrap;
  }
  textarea {
    flex-basis: 60%;
  }
}
</style>
