<script setup lang="ts">
import { ElButton, ElFormItem, ElInput, ElInputNumber } from 'element-plus'
import { reactive } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { useChange } from '../../shared/useChange'

/** The hands and machines of the workshop. */
const props = defineProps<{ desk: Schemas['DeskDesk'] }>()
const emit = defineEmits<{ close: [] }>()
const { problem, busy, mine, theirs, send } = useChange(() => emit('close'))
const w = props.desk.workshop
const people = reactive(
  (w.people ?? []).map((p) => ({
    name: p.name,
    skills: (p.skills ?? []).join(', '),
    breaks: (p.breaks ?? []).join(', '),
  })),
)
const machines = reactive(
  (w.machines ?? []).map((m) => ({
    name: m.name,
    units: m.units,
    warm: (m.warm_up ?? 0) / 60,
    tray: (m.tray_change ?? 0) / 60,
    soft: m.soft || undefined,
  })),
)
const rest = reactive({ benches: w.benches ?? 0, hours: w.opening_hours ?? '' })
const list = (text: string) =>
  text
    .split(/[,;]/)
    .map((x) => x.trim())
    .filter(Boolean)
const submit = () =>
  send((v, header) => {
    const { id, created_at, updated_at, version, ...facts } = w as typeof w & Record<string, unknown>
    void [id, created_at, updated_at]
    return take(
      api.PUT('/api/workshop', {
        params: { header },
        body: {
          ...facts,
          version: v ?? version,
          opening_hours: rest.hours.trim(),
          benches: rest.benches,
          people: people
            .filter((p) => p.name.trim())
            .map((p) => ({ name: p.name.trim(), skills: list(p.skills), breaks: list(p.breaks) })),
          machines: machines
            .filter((m) => m.name.trim())
            .map((m) => ({
              name: m.name.trim(),
              units: m.units,
              warm_up: Math.round(60 * m.warm),
              soft: m.soft ?? 0,
              tray_change: m.units <= 1 ? Math.round(60 * m.tray) : 0,
            })),
        },
      }),
    )
  })
</script>

<template>
  <FormDialog
    title="Hands and machines"
    :width="720"
    :busy="busy"
    :problem="problem"
    :mine="mine"
    @close="emit('close')"
    @theirs="theirs"
    @submit="submit"
  >
    <h3>People</h3>
    <div v-for="(p, i) in people" :key="i" class="line">
      <ElInput v-model="p.name" maxlength="40" placeholder="bench 1" :aria-label="`Person ${i + 1}`" />
      <ElInput v-model="p.skills" maxlength="200" placeholder="skills: glass, board" :aria-label="`Skills ${i + 1}`" />
      <ElInput v-model="p.breaks" maxlength="100" placeholder="breaks: 12:00-12:30" :aria-label="`Breaks ${i + 1}`" />
      <ElButton :aria-label="`Take out person ${i + 1}`" @click="people.splice(i, 1)">×</ElButton>
    </div>
    <ElButton :disabled="people.length >= 6" @click="people.push({ name: '', skills: '', breaks: '' })">
      One more pair of hands
    </ElButton>
    <h3>Machines</h3>
    <p class="quiet">
      An opening edge stays soft for 60 s after a plate or press, 30 s after air (house figures) unless you say
      otherwise. An air gun may stand here for its seconds alone.
    </p>
    <div v-for="(m, i) in machines" :key="i" class="line machine">
      <ElInput v-model="m.name" maxlength="40" placeholder="plate, press, clamp" :aria-label="`Machine ${i + 1}`" />
      <label>
        units
        <ElInputNumber v-model="m.units" :min="1" :max="20" :controls="false" :aria-label="`Units ${i + 1}`" />
      </label>
      <label>
        min to warm
        <ElInputNumber
          v-model="m.warm"
          :min="0"
          :max="120"
          :controls="false"
          :aria-label="`Minutes to warm ${i + 1}`"
        />
      </label>
      <label :class="{ unseen: m.units > 1 }">
        min a tray
        <ElInputNumber
          v-model="m.tray"
          :min="0"
          :max="60"
          :controls="false"
          :aria-label="`Minutes to change the tray ${i + 1}`"
        />
      </label>
      <label>
        s soft
        <ElInputNumber
          v-model="m.soft"
          :min="0"
          :max="600"
          :controls="false"
          placeholder="60"
          :aria-label="`Seconds that an opening edge stays soft after it ${i + 1}`"
        />
      </label>
      <ElButton :aria-label="`Take out machine ${i + 1}`" @click="machines.splice(i, 1)">×</ElButton>
    </div>
    <ElButton
      :disabled="machines.length >= 20"
      @click="machines.push({ name: '', units: 1, warm: 0, tray: 0, soft: undefined })"
    >
      One more machine
    </ElButton>
    <ElFormItem label="Opening hours">
      <ElInput v-model="rest.hours" maxlength="120" placeholder="Mo-Fr 08:00-17:00" />
    </ElFormItem>
    <ElFormItem label="Phones that may lie open at a time (0: any number)">
      <ElInputNumber v-model="rest.benches" :min="0" :max="60" :controls="false" aria-label="Open phones" />
    </ElFormItem>
  </FormDialog>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr auto;
  gap: 8px;
  margin-bottom: 8px;
  align-items: center;
}
.machine {
  grid-template-columns: minmax(0, 1fr) auto auto auto auto auto;
}
.unseen {
  visibility: hidden;
}
.line label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.line :deep(.el-input-number) {
  width: 70px;
}
h3 {
  font-size: 15px;
  margin: 12px 0 6px;
}
@media (max-width: 600px) {
  .line,
  .machine {
    grid-template-columns: 1fr;
  }
  .unseen {
    display: none !important;
  }
}
</style>
