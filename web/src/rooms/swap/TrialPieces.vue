<script setup lang="ts">
import { ElButton, ElFormItem, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'

import { api, type Problem, type Schemas } from '../../api/client'
import PhoneMap from '../../shared/PhoneMap.vue'
import { fieldError } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'

/** Which piece sits in which slot of a trial: by the plan, or slot by slot. */
const props = defineProps<{ room: Schemas['SwapRoom']; board: string; problem?: Problem }>()
/** Per slot: "unit ID", off, copy, unknown, or dangling for an own part that hangs out of its place; else its own. */
const pieces = defineModel<Record<string, string>>('pieces', { required: true })
const lots = defineModel<Record<string, string>>('lots', { required: true })
const models = defineModel<Record<string, string>>('models', { required: true })
const foreign = computed(() => props.room.slots.filter((s) => pieces.value[s.id] === 'foreign'))
const { room: known } = useRoom(['models'], () => api.GET('/api/models'), { enabled: () => foreign.value.length > 0 })
const other = computed(() => props.room.units.find((u) => u.id !== props.board))
const bought = computed(() => props.room.slots.filter((s) => ['copy', 'unknown'].includes(pieces.value[s.id] ?? '')))
const all = computed(() => props.room.slots.every((s) => pieces.value[s.id] === `unit ${other.value?.id}`))
function exchangeAll() {
  const whole = all.value
  for (const s of props.room.slots) choose(s.id, whole ? '' : `unit ${other.value?.id}`)
}
function toggle(id: string) {
  if (props.room.slots.some((s) => s.id === id))
    choose(id, pieces.value[id] || !other.value ? '' : `unit ${other.value.id}`)
}
function choose(id: string, origin: string) {
  if (origin && origin !== 'own') pieces.value[id] = origin
  else delete pieces.value[id]
}
/** An own part whose mate came from elsewhere was moved over to it. */
const movedOver = (s: Schemas['Part']) =>
  props.room.slots.some(
    (m) => (m.name === s.mate || m.mate === s.name || m.name === s.inside) && pieces.value[m.id]?.startsWith('unit'),
  )
const worn = computed(() => {
  const marks: Record<string, { colour: string; label: string }> = {}
  for (const [id, origin] of Object.entries(pieces.value)) {
    const u = props.room.units.find((x) => origin === `unit ${x.id}`)
    marks[id] = u
      ? { colour: u.colour, label: `from ${u.name}` }
      : { colour: 'grey', label: `${origin} ${lots.value[id] ?? ''}`.trim() }
  }
  return marks
})
const off = computed(() => Object.entries(pieces.value).flatMap(([id, o]) => (o === 'off' ? [id] : [])))
</script>

<template>
  <div>
    <PhoneMap
      :model="room.model"
      :parts="room.slots"
      :worn="worn"
      :out="off"
      label="Parts of this board"
      compact
      @select="toggle"
    />
    <p class="quiet">Choose a part on the plan to put {{ other?.name ?? 'another' }}'s piece there, or set it here:</p>
    <ElButton v-if="other" @click="exchangeAll">
      {{ all ? 'Every piece its own' : `Board exchange: every piece ${other.name}'s` }}
    </ElButton>
    <div class="slots">
      <div v-for="s in room.slots" :key="s.id" class="slot" :data-slot-of="s.name" :data-origin="pieces[s.id] ?? 'own'">
        <span>{{ s.name }}</span>
        <ElSelect
          :model-value="pieces[s.id] ?? 'own'"
          :teleported="false"
          size="small"
          :aria-label="s.name"
          @update:model-value="(v: string) => choose(s.id, v)"
        >
          <ElOption value="own" :label="movedOver(s) ? 'its own, moved over' : 'its own'" />
          <ElOption
            v-for="u in room.units.filter((x) => x.id !== board)"
            :key="u.id"
            :value="`unit ${u.id}`"
            :label="`${u.name}'s`"
          />
          <ElOption value="off" label="left off" />
          <ElOption value="dangling" label="its own, left dangling" />
          <ElOption value="copy" label="a copy" />
          <ElOption value="foreign" label="another model's" />
          <ElOption value="unknown" label="origin unknown" />
        </ElSelect>
      </div>
    </div>
    <div v-for="b in foreign" :key="`from ${b.id}`" class="row">
      <ElFormItem :label="`The ${b.name} was built for the`" :error="fieldError(problem, 'pieces')">
        <ElSelect
          v-model="models[b.id]"
          :teleported="false"
          filterable
          default-first-option
          :aria-label="`The ${b.name} was built for the`"
          style="width: 190px"
        >
          <ElOption
            v-for="m in (known ?? []).filter((x) => x.id !== room.model.id)"
            :key="m.id"
            :value="m.name"
            :label="m.name"
          />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Mark on it">
        <ElInput v-model="lots[b.id]" maxlength="40" placeholder="D3-B1" :aria-label="`Mark on the ${b.name}`" />
      </ElFormItem>
    </div>
    <ElFormItem
      v-for="b in bought"
      :key="b.id"
      :label="`Delivery that the ${b.name} came with`"
      :error="fieldError(problem, 'pieces')"
    >
      <ElInput v-model="lots[b.id]" maxlength="40" placeholder="acme-7; a second piece of it: acme-7#2" />
    </ElFormItem>
  </div>
</template>

<style scoped>
.slots {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 4px 20px;
  margin: 10px 0;
}
.slot {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 132px;
  gap: 8px;
  align-items: center;
  font-size: 14px;
}
</style>
