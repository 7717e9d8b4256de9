<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { onBeforeUnmount, onMounted, ref } from 'vue'

/** Reads a printed code with the camera: shows what it sees until a code is in it. */
const emit = defineEmits<{ read: [code: string]; close: [] }>()
const view = ref<HTMLVideoElement>()
const problem = ref('')
let stream: MediaStream | undefined
let ended = false

onMounted(async () => {
  try {
    const [{ default: jsQR }, camera] = await Promise.all([
      import('jsqr'),
      navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } }),
    ])
    stream = camera
    if (ended || !view.value) return stop()
    view.value.srcObject = camera
    await view.value.play()
    const canvas = document.createElement('canvas')
    const draw = canvas.getContext('2d', { willReadFrequently: true })!
    const look = () => {
      const v = view.value
      if (ended || !v) return
      if (v.videoWidth) {
        canvas.width = v.videoWidth
        canvas.height = v.videoHeight
        draw.drawImage(v, 0, 0)
        const found = jsQR(draw.getImageData(0, 0, canvas.width, canvas.height).data, canvas.width, canvas.height)
        if (found?.data) return emit('read', found.data)
      }
      setTimeout(look, 150)
    }
    look()
  } catch (e) {
    problem.value = `The camera cannot be used: ${e instanceof Error ? e.message : String(e)}. Type the code that stands under the picture.`
  }
})
function stop() {
  stream?.getTracks().forEach((t) => t.stop())
}
onBeforeUnmount(() => {
  ended = true
  stop()
})
</script>

<template>
  <ElDialog
    :model-value="true"
    title="Hold a label before the camera"
    :width="480"
    append-to-body
    @close="emit('close')"
  >
    <p v-if="problem" role="alert">{{ problem }}</p>
    <video v-show="!problem" ref="view" class="view" muted playsinline aria-label="What the camera sees"></video>
  </ElDialog>
</template>

<style scoped>
.view {
  width: 100%;
  background: #000;
}
</style>
