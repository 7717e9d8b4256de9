<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { day, dated } from '../../shared/locale'

/** Drafts and orders under way: each on its ruler from the day it was sent, past the day it was due. */
const props = defineProps<{ room: Schemas['OrdersRoom'] }>()
const emit = defineEmits<{ open: [id: string] }>()
type View = Schemas['OrdersView']
const open = computed(() => props.room.orders.filter((o) => ['draft', 'sent', 'part received'].includes(o.state)))
const ended = computed(() => props.room.orders.filter((o) => !open.value.includes(o)).slice(0, 5))
const at = (text?: string) => Date.parse(text ?? '')
/** Shares of the ruler: gone since it was sent, and late. */
function ruler(o: View) {
  const sent = at(o.sent_on)
  const end = Math.max(Date.now(), at(o.late))
  const x = (t: number) => (100 * (t - sent)) / Math.max(1, end - sent)
  const due = x(at(o.due))
  const now = x(Date.now())
  return { gone: Math.min(now, due), due, late: Math.max(0, now - due) }
}
const act = (o: View) =>
  o.state === 'draft' ? 'look at it and send it' : o.days_late ? 'ask, or receive it' : 'receive it'
const what = (o: View) => o.rows.map((l) => `${l.quantity > 1 ? `${l.quantity} × ` : ''}${l.title}`).join(', ')
</script>

<template>
  <section id="orders">
    <h2>
      Orders
      <small class="quiet">{{ open.length ? 'under way' : 'none under way' }}</small>
    </h2>
    <div v-for="o in open" :key="o.id" class="order" :class="{ late: o.days_late }">
      <div class="head">
        <b>{{ o.seller }}</b>
        <b v-if="o.days_late" class="look">{{ o.days_late === 1 ? '1 day late' : `${o.days_late} days late` }}</b>
        <span v-else class="quiet">{{ o.number }}</span>
      </div>
      <div class="quiet what">{{ what(o) }}, {{ o.total }}</div>
      <template v-if="o.sent_on">
        <svg viewBox="0 0 100 6" preserveAspectRatio="none" width="100%" height="8" aria-hidden="true">
          <rect class="way" x="0" y="2.5" width="100" height="1" />
          <rect class="gone" x="0" y="0" :width="ruler(o).gone" height="6" />
          <rect class="over" :x="ruler(o).due" y="0" :width="ruler(o).late" height="6" />
        </svg>
        <div class="days quiet">
          <span>sent {{ day(o.sent_on) }}</span>
          <span>due {{ day(o.due) }}</span>
        </div>
      </template>
      <div>
        {{ dated(o.says.charAt(0).toUpperCase() + o.says.slice(1)) }}.
        <button class="bare link" :aria-label="`${act(o)}: order ${o.number}`" @click="emit('open', o.id)">
          {{ act(o) }}
        </button>
      </div>
    </div>
    <template v-if="ended.length">
      <h3 class="quiet">Ended</h3>
      <ul class="plain">
        <li v-for="o in ended" :key="o.id" class="quiet">
          <button class="bare link" @click="emit('open', o.id)">{{ o.number }}</button>
          {{ o.seller }}, {{ o.total }}: {{ dated(o.says) }}
        </li>
      </ul>
    </template>
    <template v-if="room.sellers.length">
      <h3 class="quiet">Sellers, by what came</h3>
      <ul class="plain">
        <li v-for="s in room.sellers" :key="s.id">
          <b>{{ s.name }}</b>
          <div class="quiet">{{ s.says }}</div>
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
h2 {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  border-bottom: 1px solid var(--ink);
  padding-bottom: 6px;
}
h2 small {
  font-size: 14px;
  font-weight: 400;
}
h3 {
  font-size: 15px;
  font-weight: 400;
  margin: 16px 0 4px;
}
.order {
  padding: 8px 0 10px;
  border-bottom: 1px solid var(--line);
  font-size: 15px;
}
.head,
.days {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.what {
  overflow-wrap: anywhere;
}
svg {
  display: block;
  margin: 6px 0 2px;
}
.way {
  fill: var(--strong-line);
}
.gone {
  fill: var(--pine);
}
.over {
  fill: var(--amber-fill);
}
.quiet {
  font-size: 14px;
}
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
  min-height: 24px;
}
</style>
