<script setup lang="ts">
import { ElInputNumber } from 'element-plus'

import { api, take, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { fieldError, useChange } from '../../shared/useChange'
import StickerTag from '../../shared/StickerTag.vue'

/** The gate of one phone, and what is seen at its rim once it is being opened. Every tick is stored at once. */
const props = defineProps<{ intake: Schemas['IntakeUnitIntake']; limit: number; writes: boolean }>()
const { problem, mine, theirs, queue } = useChange()
type Gate = NonNullable<Schemas['Unit']['gate']>
type Entry = NonNullable<Schemas['Unit']['entry']>
// What is ticked while a change is on its way waits for it, and goes on top of the version that it made.
const made: { last?: Schemas['Unit'] } = {}
function put(change: { gate?: Partial<Gate>; entry?: Partial<Entry> }) {
  void queue(async (v, header) => {
    const seen = made.last && made.last.version > props.intake.unit.version ? made.last : props.intake.unit
    // eslint-disable-next-line @typescript-eslint/no-unused-vars
    const { id, version, study_id: _study, ...facts } = seen
    made.last = await take(
      api.PUT('/api/units/{id}', {
        params: { path: { id }, header },
        body: {
          version: v ?? version,
          ...facts,
          gate: { ...facts.gate, ...change.gate },
          entry: { ...facts.entry, ...change.entry },
        },
      }),
    )
    return made.last
  })
}
const ticks = [
  ['off', 0],
  ['tray', 1],
  ['protection', 7],
  ['guide', 8],
] as const
const choices = [
  ['swelling', 'Battery', ['flat', 'swollen']],
  ['liquid', 'Liquid indicator', ['white', 'red', 'not found']],
  ['data', 'Data', ['backed up', 'erased', 'nothing on it']],
  ['lock', 'Lock', ['no lock', "owner's lock", 'unknown']],
] as const
const open = () => props.intake.gate.filter((g) => !g.met).length
</script>

<template>
  <section :id="`gate-${intake.unit.name}`">
    <h3>
      <StickerTag :unit="intake.unit" />
      {{ open() ? `${open()} left` : 'ready to open' }}
    </h3>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <p v-for="g in intake.gate.filter((x) => x.stop)" :key="g.text" class="danger" role="alert">{{ g.text }}</p>
    <div class="ticks">
      <label v-for="[key, i] in ticks" :key="key">
        <input
          type="checkbox"
          :checked="Boolean(intake.unit.gate?.[key])"
          :disabled="!writes"
          @change="put({ gate: { [key]: ($event.target as HTMLInputElement).checked } })"
        />
        {{ intake.gate[i]?.text }}
      </label>
    </div>
    <div class="row">
      <label>
        charge, %
        <ElInputNumber
          :model-value="intake.unit.gate?.charge"
          :min="0"
          :max="100"
          :controls="false"
          :disabled="!writes"
          :aria-label="`Charge of ${intake.unit.name}, %`"
          style="width: 72px"
          @change="(v?: number) => put({ gate: { charge: v ?? undefined } })"
        />
      </label>
      <span class="quiet">at most {{ limit }}</span>
      <span v-if="fieldError(problem, 'gate')" class="danger">{{ fieldError(problem, 'gate') }}</span>
    </div>
    <div class="choices">
      <fieldset v-for="[key, label, options] in choices" :key="key" :aria-label="`${label} of ${intake.unit.name}`">
        <span class="quiet">{{ label }}</span>
        <label v-for="o in options" :key="o">
          <input
            type="radio"
            :name="`${intake.unit.id} ${key}`"
            :value="o"
            :checked="intake.unit.gate?.[key] === o"
            :disabled="!writes"
            @change="put({ gate: { [key]: o } })"
          />
          {{ o === 'flat' ? 'not swollen' : o }}
        </label>
      </fieldset>
    </div>
    <details>
      <summary>At the opening edge: {{ intake.advice }}</summary>
      <div class="row">
        <label>
          gap, mm
          <ElInputNumber
            :model-value="intake.unit.entry?.gap_mm ?? 0"
            :min="0"
            :max="50"
            :step="0.1"
            :controls="false"
            :disabled="!writes"
            :aria-label="`Gap of ${intake.unit.name}, mm`"
            style="width: 72px"
            @change="(v?: number) => put({ entry: { gap_mm: v ?? 0 } })"
          />
        </label>
        <label>
          edge freed, %
          <ElInputNumber
            :model-value="intake.unit.entry?.freed_percent ?? 0"
            :min="0"
            :max="100"
            :step="5"
            :controls="false"
            :disabled="!writes"
            :aria-label="`Edge freed of ${intake.unit.name}, %`"
            style="width: 72px"
            @change="(v?: number) => put({ entry: { freed_percent: v ?? 0 } })"
          />
        </label>
        <label>
          <input
            type="checkbox"
            :checked="Boolean(intake.unit.entry?.suction_lifts)"
            :disabled="!writes"
            @change="put({ entry: { suction_lifts: ($event.target as HTMLInputElement).checked } })"
          />
          suction alone lifts
        </label>
      </div>
    </details>
  </section>
</template>

<style scoped>
h3 {
  display: flex;
  gap: 10px;
  align-items: center;
  font-size: 15px;
  margin: 10px 0 6px;
}
.ticks {
  display: grid;
  gap: 2px;
}
.choices {
  display: grid;
  gap: 4px;
  margin: 6px 0;
}
fieldset {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: center;
  border: 0;
  margin: 0;
  padding: 0;
}
fieldset span {
  min-width: 62px;
}
</style>
