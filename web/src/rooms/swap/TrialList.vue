<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'

import type { Schemas } from '../../api/client'
import { moment } from '../../shared/locale'
import { useSession } from '../../shared/session'
import StickerTag from '../../shared/StickerTag.vue'
import { history } from './arrange'

const props = defineProps<{ room: Schemas['SwapRoom']; writes: boolean; trouble: string }>()
const { me } = useSession()
const emit = defineEmits<{
  further: []
  edit: [trial: Schemas['SwapTrialView']]
  remove: [trial: Schemas['SwapTrialView']]
  undo: [act: Schemas['SwapActView']]
}>()
/** Trials with what was done between them, the newest first; the act that was recorded last can be taken back. */
const all = computed(() => {
  const from = props.room.older ? props.room.trials[0]!.place : -Infinity // acts before are told with their trials
  return history(props.room)
    .filter((e) => e.place >= from)
    .reverse()
})
const drawn = ref(60)
const undrawn = computed(() => props.room.older + Math.max(0, all.value.length - drawn.value))
function onward() {
  if (drawn.value < all.value.length) drawn.value += 200
  if (drawn.value >= all.value.length && props.room.older) emit('further')
}
const entries = computed(() => all.value.slice(0, drawn.value))
const last = computed(() => [...props.room.acts].sort((a, b) => a.seq - b.seq).at(-1)?.id)
const said = (check: string, s: Schemas['Seen']) =>
  `${props.room.checks.find((c) => c.mark === check)?.name ?? check}: ${[s.words, s.value === undefined ? '' : `${s.value} ${s.unit ?? ''}`.trim()].filter(Boolean).join(', ')}`
const unit = (id: string) => props.room.units.find((u) => u.id === id)
const bad = (t: Schemas['SwapTrialView'], kind: string) =>
  props.room.checks.filter((c) => t.results?.[c.mark] === kind).map((c) => c.name)
const tested = (t: Schemas['SwapTrialView']) => Object.keys(t.results ?? {}).length
const parts = (t: Schemas['SwapTrialView']) =>
  (t.pieces ?? []).map((p) => props.room.slots.find((s) => s.id === p.part_id)?.name).join(', ')
</script>

<template>
  <p v-if="!entries.length" class="quiet">No trial yet.</p>
  <ul class="plain">
    <template v-for="t in entries" :key="t.id">
      <li v-if="!('mark' in t)" class="act">
        <span>
          {{ t.text }}
          <span v-if="t.minutes" class="fig">, {{ t.minutes }} min</span>
          <span v-if="t.done_at">, {{ moment(t.done_at) }}</span>
        </span>
        <button v-if="writes && t.id === last" class="bare link" @click="$emit('undo', t)">take back</button>
      </li>
      <li v-else class="trial">
        <span class="mark fig">{{ t.mark }}</span>
        <div>
          <div class="row">
            <StickerTag v-if="unit(t.board_unit_id)" :unit="unit(t.board_unit_id)!" />
            <span>{{ t.title.replace(/^[^:]*board: /, '') }}</span>
            <span v-if="room.builds.length > 1" class="quiet">build {{ t.on_build }}</span>
            <span v-if="t.minutes" class="quiet fig">{{ t.minutes }} min</span>
            <span v-if="t.by && t.by !== me?.who?.display" class="quiet">by {{ t.by }}</span>
          </div>
          <div v-if="t.pieces?.length && t.pieces.length <= 4">{{ parts(t) }}</div>
          <div v-if="bad(t, 'lost').length" class="look">lost: {{ bad(t, 'lost').join('; ') }}</div>
          <div v-if="bad(t, 'weak').length">weak: {{ bad(t, 'weak').join('; ') }}</div>
          <div class="quiet">
            {{ tested(t) }} of {{ room.checks.length }} checks tested{{
              tested(t) && !bad(t, 'lost').length && !bad(t, 'weak').length ? ', no loss' : ''
            }}
          </div>
          <div v-if="t.assumed?.length" class="quiet">
            {{ t.assumed.length }} filled in and not seen: they count for nothing
          </div>
          <div v-if="t.notices?.length">
            notice: {{ t.notices.map((n) => `“${n.text}”${n.kind === 'passing' ? ', passing' : ''}`).join('; ') }}
          </div>
          <div v-if="t.symptom">{{ t.symptom }}</div>
          <div v-for="(s, c) in t.seen ?? {}" :key="c">{{ said(String(c), s) }}</div>
          <div v-if="t.dark_screen">the screen showed nothing</div>
          <div v-if="t.done_at" class="quiet">made {{ moment(t.done_at) }}</div>
          <div v-for="(l, k) in t.later ?? []" :key="k" class="quiet">
            read again at {{ l.minutes }} min{{ l.after?.length ? ` after ${l.after.join(', ')}` : '' }}:
            {{ Object.values(l.results).filter((r) => r === 'lost' || r === 'weak').length }} lost of
            {{ Object.keys(l.results).length }}
          </div>
          <div v-if="t.spoilt" class="danger">proves nothing: {{ t.spoilt }}</div>
          <div v-if="t.note" class="quiet note">{{ t.note }}</div>
        </div>
        <div v-if="writes" class="acts">
          <ElButton size="small" :aria-label="`Change ${t.mark}`" @click="$emit('edit', t)">change</ElButton>
          <ElButton size="small" :aria-label="`Delete ${t.mark}`" @click="$emit('remove', t)">delete</ElButton>
        </div>
      </li>
    </template>
  </ul>
  <ElButton v-if="undrawn" class="on" @click="onward">{{ undrawn }} older ones</ElButton>
  <p v-if="trouble" class="danger" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.on {
  margin-top: 8px;
}
.trial {
  display: grid;
  grid-template-columns: 40px 1fr auto;
  gap: 8px;
}
.act {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 3px 0 3px 48px !important;
  color: var(--quiet);
  font-size: 14px;
}
.mark {
  color: var(--pine);
}
.note {
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
@media (max-width: 600px) {
  .trial {
    grid-template-columns: 34px 1fr;
  }
  .acts {
    grid-column: 2;
    flex-direction: row;
  }
}
</style>
