<script setup lang="ts">
import { ElButton } from 'element-plus'
import { onBeforeUnmount, reactive, ref } from 'vue'

import type { Schemas } from '../../api/client'
import { measured } from '../../shared/format'
import MeasureField from '../../shared/MeasureField.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { kinds, type Kept } from './rows'

/** The pieces of a lot beside an original: its figures, measured with the instruments, and its pictures. */
const props = defineProps<{ delivery: Schemas['PartsDeliveryView']; row: Kept; writes: boolean }>()
const readings = reactive<Record<string, number[]>>({})
const digits = reactive<Record<string, number>>({})
const tools = reactive<Record<string, string>>({})
for (const f of props.delivery.figures) readings[f.kind] = []
const { problem, busy, mine, theirs, save } = useChange()
async function keep() {
  const taken = props.delivery.figures
    .filter((f) => readings[f.kind]?.length)
    .map((f) => ({
      kind: f.kind,
      unit: f.original.unit,
      readings: readings[f.kind]!,
      resolution: digits[f.kind] || 0.01,
      instrument: tools[f.kind] ?? '',
    }))
  const before = (props.delivery.measures ?? []).filter((m) => !taken.some((t) => t.kind === m.kind))
  const { id, version, ...rest } = props.row
  const done = await save((v, header) =>
    kinds.delivery.change(header, id, { ...rest, version: v ?? version, measures: [...before, ...taken] }),
  )
  if (done) for (const k of Object.keys(readings)) readings[k] = []
}
const any = () => Object.values(readings).some((r) => r.length)
/** A picture of the piece in hand: it stays in this browser. */
const mineShown = ref('')
function choose(e: Event) {
  const file = (e.target as HTMLInputElement).files?.[0]
  if (mineShown.value) URL.revokeObjectURL(mineShown.value)
  mineShown.value = file ? URL.createObjectURL(file) : ''
}
onBeforeUnmount(() => mineShown.value && URL.revokeObjectURL(mineShown.value))
</script>

<template>
  <div>
    <h3>Beside an original</h3>
    <ul class="plain">
      <li v-for="f in delivery.figures" :key="f.kind">
        {{ `${f.kind}: ${measured(f.original)}` }}
        <template v-if="f.mine">
          {{ `, this lot ${measured(f.mine)}, ` }}
          <b :class="f.other ? 'danger' : 'pine'">{{ f.apart }}</b>
        </template>
      </li>
    </ul>
    <form v-if="writes && delivery.figures.length" class="two" @submit.prevent="keep">
      <MeasureField
        v-for="f in delivery.figures"
        :key="f.kind"
        v-model="readings[f.kind]!"
        :label="f.kind"
        :unit="f.original.unit"
        @resolution="digits[f.kind] = $event"
        @instrument="tools[f.kind] = $event"
      />
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <ElButton native-type="submit" :loading="busy" :disabled="!any()">Keep what was measured</ElButton>
    </form>
    <div class="pictures">
      <figure v-for="p in delivery.photos" :key="p">
        <img :src="`/api/photos/${p}/full`" alt="an original" loading="lazy" />
        <figcaption>an original</figcaption>
      </figure>
      <figure>
        <img v-if="mineShown" :src="mineShown" alt="the piece in hand" />
        <label class="file">
          {{ mineShown ? 'Another picture' : 'Show a picture of the piece in hand beside it' }}
          <input type="file" accept="image/*" capture="environment" @change="choose" />
        </label>
        <figcaption class="quiet">It stays on this device.</figcaption>
      </figure>
    </div>
  </div>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 10px 0 4px;
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 4px 14px;
  align-items: start;
}
.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
figure {
  margin: 8px 0;
  max-width: 320px;
}
img {
  width: 100%;
  border: 1px solid var(--line);
}
.file {
  text-decoration: underline;
  cursor: pointer;
}
.file input {
  display: block;
  margin-top: 4px;
}
.pine {
  color: var(--pine);
}
</style>
