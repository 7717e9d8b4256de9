<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { day } from '../../shared/locale'
import { money } from '../../shared/money'
import TableImport from '../../shared/TableImport.vue'
import DeskRows from './DeskRows.vue'
import type { Kept } from './rows'

/** Offers, sellers, prices and rates: by form, pasted, from a file; and out again. */
const props = defineProps<{ desk: Schemas['DeskDesk']; model: string; writes: boolean }>()
const name = (id: string) => props.desk.models.find((m) => m.id === id)?.name ?? 'another model'
const seller = (id: string) => props.desk.sellers.find((s) => s.id === id)?.name ?? 'a seller that is gone'
const old = (day: string) => Math.floor((Date.now() - Date.parse(day)) / 86_400_000)
const offers = computed(() => props.desk.offers.filter((o) => !props.model || o.for_model_id === props.model))
const prices = computed(() => props.desk.prices.filter((o) => !props.model || o.for_model_id === props.model))
const offer = (r: Kept) => {
  const o = r as unknown as Schemas['Offer']
  const age = old(o.priced_on)
  return [
    o.title,
    ...(props.model ? [] : [name(o.for_model_id)]),
    seller(o.seller_id),
    o.grade,
    money(o.price_minor, o.currency),
    `${day(o.priced_on)}${age > 30 ? `, ${age} days old` : ''}`,
    String(o.stock),
    Object.entries(o.covers)
      .map(([s, n]) => `${s.replaceAll('-', ' ')}${n > 1 ? ` ×${n}` : ''}`)
      .join(', '),
  ]
}
const offerSorts = (r: Kept) => {
  const o = r as unknown as Schemas['Offer']
  const at = props.model ? 0 : 1
  return { [at + 3]: o.price_minor, [at + 4]: o.priced_on, [at + 5]: o.stock }
}
const sold = (r: Kept) => {
  const s = r as unknown as Schemas['Seller']
  return [
    s.name,
    money(s.shipping_minor, s.currency) +
      (s.free_above_minor ? `, free from ${money(s.free_above_minor, s.currency)}` : ''),
    s.lead_p90 ? `${s.lead_p50}–${s.lead_p90} days` : '',
    `${Math.round(100 * (s.refund ?? 0))} % back`,
  ]
}
const priced = (r: Kept) => {
  const p = r as unknown as Schemas['Price']
  return [`${p.what.replace('-', ' ')}, ${name(p.for_model_id)}`, money(p.price_minor, p.currency), day(p.priced_on)]
}
const rated = (r: Kept) => {
  const x = r as unknown as Schemas['Exchange']
  return [`1 ${x.from} = ${x.rate} ${x.to}`, day(x.rated_on)]
}
const tables = ['offers', 'deliveries', 'stock']
</script>

<template>
  <h1 class="answer ask">
    {{
      `${offers.length} offers of ${desk.sellers.length} sellers; older than 30 days: ${offers.filter((o) => old(o.priced_on) > 30).length}.`
    }}
  </h1>
  <div class="stage">
    <DeskRows
      kind="offer"
      title="Offers"
      :desk="desk"
      :rows="offers as unknown as Kept[]"
      :heads="['Offer', ...(model ? [] : ['For']), 'Seller', 'Grade', 'Price', 'Of', 'Packs', 'Fills']"
      :cells="offer"
      :writes="writes"
      :sorts="offerSorts"
      :few="model ? [1, 2] : [1, 2, 3]"
      :start="{ for_model_id: model, grade: 'original', stock: 1 }"
      :bulk="{ words: 'Out of stock', facts: { stock: 0 } }"
    />
    <DeskRows
      kind="seller"
      title="Sellers"
      :desk="desk"
      :rows="desk.sellers as unknown as Kept[]"
      :heads="['Seller', 'Shipping', 'Days', 'For a bad one']"
      :cells="sold"
      :writes="writes"
    />
    <DeskRows
      kind="price"
      title="Prices of jobs and of refurbished phones"
      :desk="desk"
      :rows="prices as unknown as Kept[]"
      :heads="['Of', 'Price', 'Day']"
      :cells="priced"
      :writes="writes"
      :start="{ for_model_id: model }"
    />
    <DeskRows
      kind="exchange"
      title="Rates of exchange"
      :desk="desk"
      :rows="desk.exchanges as unknown as Kept[]"
      :heads="['Rate', 'Day']"
      :cells="rated"
      :writes="writes"
      :start="{ to: desk.workshop.currency }"
    />
  </div>
  <div class="shelf">
    <section v-if="model && writes" class="no-print">
      <h2>Paste or read a table</h2>
      <TableImport :key="model" :model="model" desk />
    </section>
    <section v-if="model" class="no-print">
      <h2>Take it out</h2>
      <ul class="plain">
        <li v-for="t in tables" :key="t">
          {{ t }}:
          <a :href="`/api/models/${model}/desk/${t}/csv`" :aria-label="`${t} as CSV`">CSV</a>
          ·
          <a :href="`/api/models/${model}/desk/${t}/xlsx`" :aria-label="`${t} as XLSX`">XLSX</a>
        </li>
      </ul>
    </section>
    <p v-else class="quiet">Choose a model to paste its offers out of a spreadsheet, or to take them out.</p>
  </div>
</template>
