<script setup lang="ts">
import { ElButton } from 'element-plus'
import { reactive, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import { measured } from '../../shared/format'
import MeasureField from '../../shared/MeasureField.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { sendPicture } from '../../shared/sendPicture'
import { useChange } from '../../shared/useChange'
import { useUndo } from '../../shared/useUndo'
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
/** Pictures of the lot's pieces, kept beside those of an original. */
const picker = ref<HTMLInputElement>()
async function choose() {
  for (const file of picker.value?.files ?? [])
    await save((_, header) =>
      sendPicture<Schemas['PartsPicture']>(
        `/api/deliveries/${props.delivery.id}/photos`,
        { photo_id: newId() },
        header,
        file,
      ),
    )
  if (picker.value) picker.value.value = ''
}
const { gone, offer, undo } = useUndo((p: Schemas['PartsPicture']) =>
  save((v, header) =>
    take(
      api.POST('/api/lot-pictures/{id}/restore', {
        params: { path: { id: p.id }, query: { version: v ?? p.version }, header },
      }),
    ),
  ),
)
const drop = async (p: Schemas['PartsPicture']) =>
  offer(
    await save((v, header) =>
      take(
        api.DELETE('/api/lot-pictures/{id}', {
          params: { path: { id: p.id }, query: { version: v ?? p.version }, header },
        }),
      ),
    ),
  )
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
      <ElButton native-type="submit" :loading="busy" :disabled="!any()">Keep what was measured</ElButton>
    </form>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <div class="pictures">
      <figure v-for="p in delivery.photos" :key="p">
        <img :src="`/api/photos/${p}/full`" alt="an original" loading="lazy" />
        <figcaption>an original</figcaption>
      </figure>
      <figure v-for="(p, i) in delivery.own" :key="p.id">
        <img :src="`/api/photos/${p.id}/full`" :alt="`piece ${i + 1} of this lot`" loading="lazy" />
        <figcaption>
          this lot
          <button
            v-if="writes"
            class="bare quiet no-print"
            :aria-label="`Delete picture ${i + 1} of the lot`"
            @click="drop(p)"
          >
            ×
          </button>
        </figcaption>
      </figure>
    </div>
    <p v-if="gone" role="status">
      The picture is deleted.
      <ElButton size="small" @click="undo">Undo</ElButton>
    </p>
    <p v-if="!delivery.photos.length" class="quiet">No picture of an original is on record.</p>
    <template v-if="writes">
      <input
        ref="picker"
        hidden
        type="file"
        accept="image/*"
        capture="environment"
        multiple
        aria-label="Picture file of this lot"
        @change="choose"
      />
      <ElButton class="no-print keep" @click="picker?.click()">Keep a picture of a piece of this lot</ElButton>
    </template>
  </div>
</template>

<style scoped>
.keep {
  margin-bottom: 10px;
}
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
.pine {
  color: var(--pine);
}
</style>
