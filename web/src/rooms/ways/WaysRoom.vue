<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'

import { api } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import CautionList from '../../shared/CautionList.vue'
import { clock, figure, minutes, percent } from '../../shared/format'
import PhoneMap from '../../shared/PhoneMap.vue'
import HarvestShelf from './HarvestShelf.vue'
import WayAgainst from './WayAgainst.vue'
import WaySteps from './WaySteps.vue'
import { useRoom } from '../../shared/useRoom'

const route = useRoute()
const id = String(route.params.id)
type Minimise = 'attended_seconds' | 'elapsed_seconds' | 'depth' | 'risk'
const minimise = ref<Minimise>('attended_seconds')
const entry = ref<'either' | 'front' | 'back'>('either')
const { room, error } = useRoom(
  () => ['ways', id, minimise.value, entry.value],
  () =>
    api.GET('/api/models/{id}/ways', {
      params: {
        path: { id },
        query: { minimise: minimise.value, entry: entry.value === 'either' ? undefined : entry.value },
      },
    }),
)
const chosen = ref(String(route.query.part ?? ''))
const way = computed(() => room.value?.ways.find((w) => w.part_id === chosen.value) ?? room.value?.ways[0])
const cautions = computed(() => {
  const all = (way.value?.steps ?? []).flatMap((s) => s.cautions)
  return all.filter((c, i) => all.findIndex((o) => o.id === c.id) === i)
})
const units: Record<Minimise, (v: number) => string> = {
  attended_seconds: clock,
  elapsed_seconds: clock,
  depth: (v) => figure(v),
  risk: (v) => `${percent(1 - Math.exp(-v))} to damage something`,
}
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="way?.answer ?? room?.answer" />
    <template v-if="room">
      <div class="stage">
        <section>
          <div class="row pick">
            <label>
              <span class="hidden">Part</span>
              <ElSelect
                :teleported="false"
                :model-value="way?.part_id"
                aria-label="Part"
                filterable
                default-first-option
                style="width: 230px"
                @update:model-value="(v: string) => (chosen = v)"
              >
                <ElOption v-for="w in room.ways" :key="w.part_id" :value="w.part_id" :label="w.part" />
              </ElSelect>
            </label>
            <ElSelect v-model="minimise" :teleported="false" aria-label="What to keep small" style="width: 200px">
              <ElOption value="attended_seconds" label="least hands-on time" />
              <ElOption value="elapsed_seconds" label="least time on the clock" />
              <ElOption value="depth" label="fewest operations" />
              <ElOption value="risk" label="least risk" />
            </ElSelect>
            <ElSelect
              v-if="room.model.entry === 'dual'"
              v-model="entry"
              :teleported="false"
              aria-label="Side"
              style="width: 130px"
            >
              <ElOption value="either" label="either side" />
              <ElOption value="front" label="from the front" />
              <ElOption value="back" label="from the back" />
            </ElSelect>
            <span v-if="way && !way.blocked" :class="way.proven && !way.once ? 'quiet' : 'look'">
              {{
                way.once
                  ? 'as logged once, other orders unknown'
                  : way.proven
                    ? 'shortest of all recorded ways in'
                    : `perhaps not the shortest: at least ${units[minimise](way.bound)}`
              }}
            </span>
          </div>
          <PhoneMap
            :model="room.model"
            :parts="room.parts"
            :selected="way?.part_id"
            :walk="way?.steps"
            depth
            @select="(p) => (chosen = p)"
          />
        </section>
      </div>
      <div v-if="way" class="shelf">
        <p v-if="way.blocked" class="danger" role="alert">{{ way.blocked }}</p>
        <template v-else>
          <section id="steps">
            <h2>The way to the {{ way.part }}</h2>
            <p class="no-print">
              <RouterLink :to="{ name: 'follow', params: { id, part: way.part_id } }">
                Follow it, one step a screen
              </RouterLink>
            </p>
            <WaySteps :way="way" />
            <p v-if="way.consumables.length">
              <b>Have ready:</b>
              {{ way.consumables.join(', ') }}
            </p>
            <p v-for="h in way.hidden" :key="h" class="look">Hidden screws: {{ h }}</p>
            <p v-if="way.travels.length">
              <b>Must move to the new part:</b>
              {{ way.travels.join(', ') }}
            </p>
            <p v-if="way.tabs">{{ way.tabs }}</p>
            <p v-for="k in room.model.keep_outs ?? []" :key="k.edge + k.from_mm" class="quiet">
              Pick no deeper than {{ k.depth_mm }} mm at the {{ k.edge }} edge, {{ k.from_mm }} to {{ k.to_mm }} mm{{
                k.why ? `: ${k.why}` : ''
              }}
            </p>
          </section>
          <section id="risk">
            <h2>Take care</h2>
            <CautionList :cautions="cautions" :notice="room.notice" />
            <table v-if="way.odds.length">
              <thead>
                <tr>
                  <th>Damaged</th>
                  <th>by</th>
                  <th class="num">counted</th>
                  <th class="num">95 % interval</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="o in way.odds" :key="o.part + o.method + o.side">
                  <td>{{ o.part }}</td>
                  <td>{{ o.method }}, {{ o.side }}</td>
                  <td class="num">{{ o.n ? `${o.k} of ${o.n}` : 'never' }}</td>
                  <td class="num">{{ o.n ? `${percent(o.low)}–${percent(o.high)}` : 'unknown' }}</td>
                </tr>
              </tbody>
            </table>
            <p class="quiet">
              Never pooled across methods. For computing, the plan's figure counts as twenty attempts (house).
            </p>
          </section>
        </template>
      </div>
      <WayAgainst v-if="way && !way.blocked" :model="id" :way="way" />
      <HarvestShelf :model="id" />
      <section class="wide">
        <h2>Every part</h2>
        <div class="scroll" tabindex="0" role="region" aria-label="Every part">
          <table id="time">
            <thead>
              <tr>
                <th>Part</th>
                <th class="num">Steps</th>
                <th class="num">Depth</th>
                <th class="num">Screws</th>
                <th class="num">Tools</th>
                <th class="num">Changes</th>
                <th class="num">Flips</th>
                <th class="num">Hands on</th>
                <th class="num">In</th>
                <th class="num">Closed, tested</th>
                <th>Damaged most likely</th>
                <th>Times</th>
              </tr>
            </thead>
            <tbody id="tools">
              <tr v-for="w in room.ways" :key="w.part_id" :class="{ here: w.part_id === way?.part_id }">
                <td>
                  <button class="bare link" @click="chosen = w.part_id">{{ w.part }}</button>
                </td>
                <template v-if="!w.blocked">
                  <td class="num">{{ w.steps.length }}</td>
                  <td class="num">{{ w.depth }}</td>
                  <td class="num">{{ w.screws }}</td>
                  <td class="num">{{ w.tools.length }}</td>
                  <td class="num">{{ w.tool_changes }}</td>
                  <td class="num">{{ w.flips }}</td>
                  <td class="num">{{ minutes(w.attended_minutes) }}</td>
                  <td class="num">{{ minutes(w.elapsed_minutes) }}</td>
                  <td class="num">{{ minutes(w.closed_minutes) }}</td>
                  <td>
                    <template v-if="w.odds[0]">
                      {{ w.odds[0].part }}
                      <span class="fig quiet">
                        {{ w.odds[0].n ? `${w.odds[0].k} of ${w.odds[0].n} by ${w.odds[0].method}` : 'never counted' }}
                      </span>
                    </template>
                  </td>
                  <td class="quiet">{{ w.measured ? `${w.measured} of ${w.steps.length} timed` : 'predicted' }}</td>
                </template>
                <td v-else colspan="11" class="danger">no way: its prerequisites can never be met</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="room.missing.length" class="quiet">Without a way: {{ room.missing.join(', ') }}</p>
      </section>
    </template>
  </div>
</template>

<style scoped>
.pick {
  margin-bottom: 10px;
}
.wide {
  grid-column: 1 / -1;
}
tr.here td {
  background: var(--wash);
}
</style>
