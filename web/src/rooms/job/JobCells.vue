<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { count, minutes } from '../../shared/format'
import { money } from '../../shared/money'

/** The four cells of the answer: minutes, price, what is lost, what must be there. */
const props = defineProps<{ job: Schemas['JobCard']; gate?: Schemas['PartsGateRoom'] }>()
const way = computed(() => (props.job.way && !props.job.way.blocked ? props.job.way : undefined))
/** The repair as a bar in the order of its parts: hands are full, waits hatched. */
const bar = computed(() => {
  const w = way.value
  if (!w) return []
  const list: { wait: boolean; minutes: number }[] = []
  const add = (wait: boolean, m: number) => {
    if (m <= 0) return
    const last = list.at(-1)
    if (last?.wait === wait) last.minutes += m
    else list.push({ wait, minutes: m })
  }
  for (const s of w.steps) {
    add(false, s.seconds / 60)
    add(true, (s.wait_seconds ?? 0) / 60)
  }
  const [inHands, inWaits] = [w.attended_minutes, w.elapsed_minutes - w.attended_minutes]
  const back = 0.8 * inHands
  add(false, back)
  add(true, w.wait_minutes - inWaits)
  add(false, w.hands_on_minutes - inHands - back)
  return list
})
const build = computed(() => props.job.builds.at(-1))
const lost = computed(() => build.value?.losses ?? [])
const eye = (l: Schemas['JobLoss']) => l.verdict.eye
</script>

<template>
  <div class="cells">
    <section id="minutes">
      <h2>Minutes</h2>
      <template v-if="way">
        <p>
          <b class="fig big">{{ Math.round(way.closed_minutes) }}</b>
          whole repair, {{ Math.round(way.elapsed_minutes) }} to the part
        </p>
        <div
          class="bar"
          role="img"
          :aria-label="`${minutes(Math.round(way.hands_on_minutes))} hands-on, ${minutes(Math.round(way.wait_minutes))} waiting`"
        >
          <i v-for="(b, i) in bar" :key="i" :class="{ wait: b.wait }" :style="{ flexGrow: b.minutes }" />
        </div>
        <p>
          {{ minutes(Math.round(way.hands_on_minutes)) }} hands-on, {{ minutes(Math.round(way.wait_minutes)) }} waiting
          (hatched)
        </p>
        <p class="quiet how">
          {{ way.measured ? `${way.measured} of ${count(way.steps.length, 'step')} timed` : 'all estimated'
          }}{{ gate?.bench ? `; ${gate.bench}` : '' }}
        </p>
      </template>
      <p v-else class="look">No way in is on record: not known.</p>
    </section>
    <section id="price">
      <h2>Price</h2>
      <template v-if="gate?.priced">
        <p>
          <b class="fig big">{{ money(gate.price_minor, gate.currency) }}</b>
        </p>
        <p class="quiet">
          parts {{ money(gate.parts_minor, gate.currency) }}, bench {{ money(gate.labour_minor, gate.currency) }},
          {{ gate.leaves_minor < 0 ? 'loses' : 'leaves' }} {{ money(Math.abs(gate.leaves_minor), gate.currency) }} after
          what is damaged at times
        </p>
      </template>
      <p v-else-if="gate" class="look">What the customer pays is not on record.</p>
      <p v-else-if="!job.job" class="look">Nobody set a price for it.</p>
    </section>
    <section id="losses">
      <h2>What is lost{{ build ? `, build ${build.build}` : '' }}</h2>
      <ul v-if="build && (lost.length || build.works.length)" class="plain">
        <li v-for="l in lost.slice(0, 3)" :key="l.check">
          <EvidenceEye :state="eye(l)" :size="18" />
          <span>
            <b class="look">{{ l.verdict.mark === 'loses' ? 'lost' : 'may be lost' }}: {{ l.check }}</b>
            <small class="quiet">{{ l.said }}</small>
          </span>
        </li>
      </ul>
      <p v-if="build" class="quiet">
        {{ lost.length > 3 ? `${lost.length - 3} more may be lost. ` : '' }}Everything else:
        {{ count(build.works.length, 'check passes', 'checks pass') }}, {{ build.untested }} untested
      </p>
      <p v-else class="row">
        <EvidenceEye state="shut" :size="18" />
        Untested: nobody has swapped this part yet.
      </p>
    </section>
    <section id="there">
      <h2>Must be there</h2>
      <ul v-if="gate" class="plain">
        <li v-for="t in gate.there" :key="t.item" :class="{ look: !t.free }">
          <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden="true">
            <rect x="1" y="1" width="16" height="16" :class="{ full: t.free }" />
            <path v-if="t.free" d="M4 9.5 8 13l6-8" />
          </svg>
          <span>
            {{ t.item
            }}{{ t.free ? `: ${t.free}${t.place ? ` in ${t.place}` : ''}` : `: 0${t.comes ? `, ${t.comes}` : ''}` }}
          </span>
        </li>
      </ul>
      <p v-if="way" class="quiet">with {{ way.tools.join(', ') }}</p>
    </section>
  </div>
</template>

<style scoped>
.cells {
  display: grid;
  grid-template-columns: 300px 230px minmax(0, 1fr) minmax(0, 1fr);
  border-bottom: 1px solid var(--ink);
}
section {
  padding: 12px 18px;
  border-left: 1px solid var(--line);
}
section:first-child {
  border-left: 0;
  padding-left: 0;
}
h2 {
  border: 0;
  padding: 0;
  font-size: 14px;
  color: var(--quiet);
  margin-bottom: 4px;
}
p {
  margin: 0 0 4px;
  font-size: 15px;
}
.big {
  font-size: 26px;
}
.bar {
  display: flex;
  height: 14px;
  margin: 4px 0;
}
.bar i {
  background: var(--pine);
  min-width: 2px;
}
.bar i.wait {
  background: repeating-linear-gradient(135deg, var(--pine) 0 1.5px, transparent 1.5px 6px);
  border: 1px solid var(--pine);
}
li {
  display: flex;
  gap: 8px;
  padding: 3px 0 !important;
  border: 0 !important;
  font-size: 15px;
}
li small {
  display: block;
}
svg {
  flex: none;
  margin-top: 2px;
}
rect {
  fill: none;
  stroke: currentColor;
}
rect.full {
  fill: var(--pine);
  stroke: var(--pine);
}
path {
  fill: none;
  stroke: var(--on-pine);
  stroke-width: 2;
}
@media (max-width: 1100px) {
  .cells {
    grid-template-columns: 1fr 1fr;
  }
  section:nth-child(3) {
    border-left: 0;
    padding-left: 0;
  }
}
@media (max-width: 600px) {
  .cells {
    grid-template-columns: minmax(0, 1fr);
  }
  section {
    border-left: 0;
    border-top: 1px solid var(--line);
    padding: 10px 0;
  }
  section:first-child {
    border-top: 0;
  }
}
</style>
