<script setup lang="ts">
import { ElInputNumber } from 'element-plus'
import { computed, ref } from 'vue'

import { api, type Schemas } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { day } from '../../shared/locale'
import { percent } from '../../shared/format'
import { money, toMinor } from '../../shared/money'
import { useRoom } from '../../shared/useRoom'
import DeskRows from './DeskRows.vue'
import type { Kept } from './rows'

/** How much to keep of what, by groups that interchange, and what to order first. */
const props = defineProps<{ desk: Schemas['DeskDesk']; writes: boolean }>()
const budget = ref<number>()
const { room, error } = useRoom(
  () => ['levels', budget.value],
  () =>
    api.GET('/api/parts/stock', {
      params: { query: { budget: toMinor(budget.value ?? 0, props.desk.workshop.currency) } },
    }),
)
const name = (id: string) => props.desk.models.find((m) => m.id === id)?.name ?? '?'
const most = computed(() =>
  Math.max(1, ...(room.value?.groups.map((g) => Math.max(g.base_stock, g.on_hand + g.on_order)) ?? [])),
)
const level = (g: Schemas['PartsGroupView']) =>
  `keep ${g.base_stock}, have ${g.on_hand}${g.on_order ? `, ${g.on_order} on order` : ''}${g.owed ? `, ${g.owed} owed` : ''}`
const cells = (r: Kept) => {
  const s = r as unknown as Schemas['Shelf']
  return [
    `${s.item.replaceAll('-', ' ')}, ${name(s.for_model_id)}`,
    s.grade,
    `${s.quantity}${s.reserved ? `, ${s.reserved} reserved` : ''}`,
    s.place,
    [s.quarantine && `quarantine: ${s.quarantine}`, s.origin, s.best_before && `best before ${day(s.best_before)}`]
      .filter(Boolean)
      .join('; '),
  ]
}
</script>

<template>
  <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
  <AnswerLine v-else class="answer" :sentence="room?.answer" />
  <div class="stage">
    <section v-if="room?.groups.length" id="groups">
      <h2>Counted over {{ room.weeks }} weeks, for {{ percent(room.goal) }} served from the shelf</h2>
      <ul class="plain">
        <li v-for="g in room.groups" :key="g.id" class="group">
          <div>
            <b>{{ g.slot.replaceAll('-', ' ') }}</b>
            {{ ' ' }}{{ g.models.map((m) => m.name).join(', ') }}
            <div class="quiet">
              {{ g.models.reduce((n, m) => n + m.jobs, 0) }} jobs, {{ g.rate_per_week.toFixed(2) }} a week ({{
                g.interval[0]!.toFixed(2)
              }}–{{ g.interval[1]!.toFixed(2) }}); {{ g.lead_weeks.toFixed(1) }} weeks until it is there{{
                g.lead_assumed ? ' (assumed)' : ''
              }}
            </div>
            <div v-if="g.test" class="look">{{ g.test }}</div>
            <div v-for="h in [...g.held, ...g.expires]" :key="h" class="look">{{ h }}</div>
          </div>
          <div>
            <svg viewBox="0 0 180 30" width="180" height="30" aria-hidden="true">
              <rect class="want" x="0" y="4" :width="(170 * g.base_stock) / most" height="9" />
              <rect class="have" x="0" y="16" :width="(170 * g.on_hand) / most" height="9" />
              <rect class="come" :x="(170 * g.on_hand) / most" y="16" :width="(170 * g.on_order) / most" height="9" />
            </svg>
            <span class="fig">{{ level(g) }}</span>
            <div v-if="g.pooling_saves" class="quiet">
              pooled: {{ g.pooling_saves }} fewer, {{ money(g.pooling_saves * g.cost, room.currency) }}
            </div>
          </div>
        </li>
      </ul>
      <p v-for="l in room.left" :key="l" class="quiet">{{ l }}</p>
    </section>
    <DeskRows
      kind="shelf"
      title="Pieces in stock"
      :desk="desk"
      :rows="desk.shelves as unknown as Kept[]"
      :heads="['What', 'Grade', 'Pieces', 'Place', 'Worth knowing']"
      :few="[1]"
      :cells="cells"
      :writes="writes"
    />
  </div>
  <div v-if="room" class="shelf">
    <section id="orders">
      <h2>What to order first</h2>
      <label class="row no-print">
        with
        <ElInputNumber v-model="budget" :min="0" :controls="false" aria-label="Money for orders" style="width: 110px" />
        {{ desk.workshop.currency }}
      </label>
      <ol v-if="room.found.orders.length" class="plain">
        <li v-for="o in room.found.orders" :key="o.id">
          <b class="fig">{{ o.pieces }}</b>
          {{ room.groups.find((g) => g.id === o.id)?.slot.replaceAll('-', ' ') }},
          {{
            room.groups
              .find((g) => g.id === o.id)
              ?.models.map((m) => m.name)
              .join(', ')
          }}
          <span class="quiet">{{ money(o.cost, room.currency) }}, then {{ percent(o.fill) }} served</span>
        </li>
      </ol>
      <p v-if="room.found.orders.length" class="quiet">
        {{ money(room.found.spent, room.currency) }} spent{{ room.found.proven ? ', proven the best use of it' : '' }}.
        It is advice: a person sends it.
      </p>
      <p v-else class="quiet">Say what may be spent.</p>
    </section>
    <p class="quiet">
      Demand is Poisson, one piece a job; refused jobs count, or the rate is too low. Groups pool only where tests
      between models carry it.
    </p>
  </div>
</template>

<style scoped>
.group {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 230px;
  gap: 16px;
}
svg {
  display: block;
}
.want {
  fill: none;
  stroke: var(--ink);
}
.have {
  fill: var(--pine);
}
.come {
  fill: var(--pine-wash);
  stroke: var(--pine);
}
@media (max-width: 600px) {
  .group {
    grid-template-columns: 1fr;
  }
}
</style>
