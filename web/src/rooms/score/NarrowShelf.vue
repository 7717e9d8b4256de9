<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { minutes } from '../../shared/format'
import { day, numbers } from '../../shared/locale'
import { plainly, points, roomWords, source } from './words'

/** What would narrow the chosen school, what would help the phone most, what it leaves, and what moved since. */
const props = defineProps<{ room: Schemas['ScoreRoom']; school: Schemas['ScoreSchool'] }>()
const emit = defineEmits<{ say: [fact: string]; mark: [id: string] }>()
const facts = computed(() => new Map(props.room.facts.map((f) => [f.id, f])))
const title = (id: string) => facts.value.get(id)?.def.title ?? plainly(id)
const narrow = computed(() => props.school.score.narrow.filter((n) => n.most > 0.004).slice(0, 6))
const changes = computed(() => props.school.score.changes.slice(0, 5))
const moved = computed(() => props.room.moved.find((m) => m.rubric === props.school.score.rubric))
const since = computed(() => props.room.marks.find((m) => m.id === props.room.since))
const f2 = (x: number) => (x >= 0 ? '+' : '−') + points([Math.abs(x), Math.abs(x)], 2)
const digits = (currency: string) =>
  new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2
const money = (minor: number, currency: string) =>
  currency
    ? numbers({ style: 'currency', currency, maximumFractionDigits: 0 }).format(minor / 10 ** digits(currency))
    : String(minor)
const aim = (c: Schemas['SchoolChange']) =>
  facts.value.get(c.fact)?.money ? money(Number(c.to), props.room.currency) : plainly(c.to)
const hour = (h: Schemas['ScoreHourly']) =>
  `${h.usual == null ? 'not known, ' : `about ${money(h.usual, h.currency)}, `}${money(h.low, h.currency)} to ${money(h.high, h.currency)}`
const began = computed(() =>
  since.value && moved.value
    ? `Since “${since.value.note}” (${[day(since.value.taken_at), since.value.build].filter(Boolean).join(', ')}): ` +
      `${points(moved.value.from, props.school.digits)} then, ${points(moved.value.to, props.school.digits)} now.`
    : '',
)
</script>

<template>
  <section id="narrow">
    <h2>What would narrow it, by points a minute</h2>
    <ol class="plain">
      <li v-for="n in narrow" :key="n.fact">
        <b>{{ title(n.fact) }}</b>
        <span class="quiet">{{ ' ' }}{{ n.why }}</span>
        <br />
        narrows by
        <span class="fig">{{ points([n.least, n.most], 2) }}</span>
        in {{ minutes(n.minutes) }}: {{ facts.get(n.fact)?.def.ask ?? 'find it out' }}.
        <RouterLink
          v-if="facts.get(n.fact) && source(facts.get(n.fact)!, room.model.id)"
          :to="source(facts.get(n.fact)!, room.model.id)!"
        >
          To the {{ roomWords(facts.get(n.fact)!) }}
        </RouterLink>
        <button v-else-if="facts.get(n.fact)?.asked" class="bare link" @click="emit('say', n.fact)">Say it</button>
        <span v-if="n.outcomes?.length && n.outcomes.length <= 5" class="outs quiet">
          <span v-for="o in n.outcomes" :key="String(o.value)">
            {{ plainly(o.value) }}:
            <span class="fig">{{ points(o.range, school.digits) }}</span>
          </span>
        </span>
        <span v-if="n.class === 'settles' || n.class === 'may settle'" class="quiet">The class: {{ n.class }}.</span>
      </li>
    </ol>
    <p v-if="!narrow.length" class="quiet">Nothing that is still open would move this score.</p>
  </section>
  <section v-if="changes.length">
    <h2>What would help the phone most</h2>
    <ol class="plain">
      <li v-for="c in changes" :key="c.fact">
        {{ `${title(c.fact)} at ${aim(c)}: gains ` }}
        <span class="fig">{{ points([Math.min(...c.gain), Math.max(...c.gain)], 2) }}</span>
      </li>
    </ol>
  </section>
  <section v-if="school.score.aged.length">
    <h2>Seen on an older software</h2>
    <ul class="plain">
      <li v-for="a in school.score.aged" :key="a.fact">
        {{ title(a.fact) }}, on {{ a.build }}; open again it would read
        <span class="fig">{{ points(a.range, school.digits) }}</span>
      </li>
    </ul>
  </section>
  <section v-if="room.hourly.length && school.score.rubric === 'shop-money'">
    <h2>What an hour of it leaves</h2>
    <p class="quiet">Price of the job, less its part and the damage to be expected, over its minutes.</p>
    <ul class="plain">
      <li v-for="h in room.hourly" :key="h.job">
        {{ plainly(h.job) }}:
        <span class="fig">{{ hour(h) }}</span>
      </li>
    </ul>
  </section>
  <section id="moved">
    <h2>What moved it</h2>
    <template v-if="since && moved">
      <p>{{ began }}</p>
      <ul class="plain">
        <li v-for="m in moved.moves" :key="m.fact">
          {{ title(m.fact) }}
          <span class="fig">{{ f2(m.low) }} / {{ f2(m.high) }}</span>
        </li>
      </ul>
      <p v-if="!moved.moves.length" class="quiet">Nothing that this method asks for has changed.</p>
      <p v-else class="quiet">What it moved at the low / at the high end; they add up to the change.</p>
    </template>
    <p v-else class="quiet">
      No earlier state was kept. Keep one before something changes, and this will say what moved.
    </p>
    <ul v-if="room.marks.length > 1" class="plain">
      <li v-for="m in room.marks" :key="m.id">
        <button class="bare link" :aria-pressed="m.id === room.since" @click="emit('mark', m.id)">{{ m.note }}</button>
        <span class="quiet">{{ ' ' }}{{ day(m.taken_at) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
  min-height: 24px;
  text-align: left;
}
.outs {
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
}
</style>
