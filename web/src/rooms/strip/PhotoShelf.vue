<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { ref } from 'vue'

import { api, newId, once, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { sendPicture } from '../../shared/sendPicture'
import { useChange } from '../../shared/useChange'

/** Pictures of the study: added from a file or the bench camera, pinned to the last entry, with pins on them. */
const props = defineProps<{
  study: string
  unit: Schemas['Unit']
  photos: Schemas['Photo'][]
  entry?: string
  /** The part that is chosen on the map: a still shows it. */
  part?: string
  writes: boolean
}>()
const { problem, mine, theirs, save } = useChange()
const picker = ref<HTMLInputElement>()
const shown = ref<Schemas['Photo']>()
const pins = ref<Schemas['PhotoPin'][]>([])
const caption = ref('')
async function send(file: Blob) {
  const id = newId()
  const header = once()
  const query = { photo_id: id, unit_id: props.unit.id, entry_id: props.entry ?? '', part_id: props.part ?? '' }
  await save(() => sendPicture<Schemas['Photo']>(`/api/studies/${props.study}/photos`, query, header, file))
}
async function chosen() {
  for (const file of picker.value?.files ?? []) await send(file)
  if (picker.value) picker.value.value = ''
}
const camera = ref<MediaStream>()
const video = ref<HTMLVideoElement>()
const noCamera = ref(navigator.mediaDevices ? '' : 'The camera needs a secure connection (https) on this address.')
async function still() {
  try {
    if (!camera.value) {
      camera.value = await navigator.mediaDevices.getUserMedia({ video: true })
      video.value!.srcObject = camera.value
      await video.value!.play()
      return
    }
    const canvas = document.createElement('canvas')
    canvas.width = video.value!.videoWidth
    canvas.height = video.value!.videoHeight
    canvas.getContext('2d')!.drawImage(video.value!, 0, 0)
    canvas.toBlob((b) => b && void send(b), 'image/jpeg', 0.92)
  } catch {
    noCamera.value = 'No camera answered.'
  }
}
defineExpose({ still })
function show(p: Schemas['Photo']) {
  shown.value = p
  pins.value = [...(p.pins ?? [])]
  caption.value = p.caption ?? ''
}
function pin(e: MouseEvent) {
  if (!props.writes) return
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
  const at = (v: number) => Math.min(1, Math.max(0, Math.round(v * 1000) / 1000))
  pins.value.push({
    x: at((e.clientX - box.left) / box.width),
    y: at((e.clientY - box.top) / box.height),
    text: `pin ${pins.value.length + 1}`,
  })
}
async function keep() {
  const p = shown.value!
  const done = await save((v, header) =>
    take(
      api.PUT('/api/photos/{id}', {
        params: { path: { id: p.id }, header },
        body: {
          version: v ?? p.version,
          caption: caption.value,
          part_id: p.part_id,
          entry_id: p.entry_id,
          pins: pins.value,
        },
      }),
    ),
  )
  if (done) shown.value = undefined
}
async function remove() {
  const p = shown.value!
  const done = await save((v, header) =>
    take(
      api.DELETE('/api/photos/{id}', { params: { path: { id: p.id }, query: { version: v ?? p.version }, header } }),
    ),
  )
  if (done) shown.value = undefined
}
</script>

<template>
  <section id="photos">
    <h2>Pictures</h2>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <div class="thumbs">
      <button
        v-for="p in photos"
        :key="p.id"
        class="bare"
        :aria-label="`Picture ${p.caption || p.id}`"
        @click="show(p)"
      >
        <img :src="`/api/photos/${p.id}/thumb`" :alt="p.caption || 'picture without a caption'" loading="lazy" />
      </button>
    </div>
    <p v-if="!photos.length" class="quiet">
      None yet. A picture is pinned to the last entry; place and date in its file are dropped.
    </p>
    <!-- eslint-disable-next-line vuejs-accessibility/media-has-caption -->
    <video v-show="camera" ref="video" muted playsinline />
    <div v-if="writes" class="row">
      <input
        ref="picker"
        class="hidden"
        type="file"
        accept="image/jpeg,image/png,image/webp"
        multiple
        aria-label="Picture file"
        @change="chosen"
      />
      <ElButton @click="picker?.click()">Add pictures</ElButton>
      <ElButton :disabled="!!noCamera" @click="still">
        Still from the camera
        <span class="keys">c</span>
      </ElButton>
      <span v-if="noCamera" class="quiet">{{ noCamera }}</span>
    </div>
    <ElDialog v-if="shown" :model-value="true" title="Picture" width="820" append-to-body @close="shown = undefined">
      <div class="big">
        <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -->
        <div class="frame" @click="pin">
          <img :src="`/api/photos/${shown.id}/full`" :alt="shown.caption || 'picture'" />
          <span v-for="(p, i) in pins" :key="i" class="pin" :style="{ left: `${p.x * 100}%`, top: `${p.y * 100}%` }">
            {{ i + 1 }}
          </span>
        </div>
      </div>
      <ElInput v-model="caption" maxlength="200" placeholder="Caption" aria-label="Caption" :disabled="!writes" />
      <div v-for="(p, i) in pins" :key="i" class="row">
        <span class="fig">{{ i + 1 }}</span>
        <ElInput
          v-model="p.text"
          maxlength="120"
          :aria-label="`Text of pin ${i + 1}`"
          :disabled="!writes"
          style="width: 60%"
        />
        <button v-if="writes" class="bare" :aria-label="`Take pin ${i + 1} away`" @click="pins.splice(i, 1)">×</button>
      </div>
      <p class="quiet">Click the picture to set a pin.</p>
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <div v-if="writes" class="row">
        <ElButton type="primary" @click="keep">Save</ElButton>
        <ElButton @click="remove">Delete the picture</ElButton>
      </div>
    </ElDialog>
  </section>
</template>

<style scoped>
.thumbs {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
.thumbs img {
  height: 76px;
  display: block;
  border: 1px solid var(--line);
}
video {
  width: 100%;
  max-height: 220px;
}
.big {
  display: flex;
  justify-content: center;
  margin-bottom: 10px;
}
.frame {
  position: relative;
  cursor: crosshair;
}
.frame img {
  max-width: 100%;
  max-height: 60vh;
  display: block;
}
.pin {
  position: absolute;
  transform: translate(-50%, -50%);
  width: 26px;
  height: 26px;
  border-radius: 50%;
  background: var(--amber-fill);
  color: #fff;
  border: 2px solid #fff;
  text-align: center;
  font: 600 14px/22px var(--mono);
}
</style>
