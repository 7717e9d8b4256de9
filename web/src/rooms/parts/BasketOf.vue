<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'

import type { Schemas } from '../../api/client'
import { dated } from '../../shared/locale'

/** A basket by seller, with what stayed empty and what was left out; a person may take that all the same, and says why. */
defineProps<{ basket: Schemas['NeedsBasket']; writes: boolean }>()
const overrides = defineModel<Schemas['NeedsOverride'][]>('overrides', { required: true })
/** What stands under the sum, a sentence each. */
const notes = (b: Schemas['NeedsBasket']) =>
  [
    b.again && `Bad ones bought again cost ${b.again} on average, on top`,
    b.one && b.one.charAt(0).toUpperCase() + b.one.slice(1),
    b.spare.length && `Left over: ${b.spare.join(', ')}`,
    b.rates.length && `Rates: ${b.rates.join('; ')}`,
    b.loss && `The functions that are lost are worth ${b.loss}`,
    b.other && `In all ${b.other}`,
    b.stated,
  ]
    .filter(Boolean)
    .map((s) => `${s}.`)
const show = defineModel<string>('show', { required: true })
const asked = ref('')
const why = ref('')
function bring(offer: string) {
  if (!why.value.trim()) return
  overrides.value = [...overrides.value.filter((o) => o.offer_id !== offer), { offer_id: offer, why: why.value.trim() }]
  asked.value = why.value = ''
}
</script>

<template>
  <div v-for="s in basket.sellers" :key="s.id" class="seller">
    <div class="head">
      <span>
        <b>{{ s.name }}</b>
        {{ ' ' }}
        <span class="quiet">{{ s.days }}</span>
      </span>
      <span class="quiet">delivery {{ s.shipping }}{{ s.coupon ? `, coupon ${s.coupon}` : '' }}</span>
      <b class="num">{{ s.total }}</b>
    </div>
    <div v-for="l in s.lines" :key="l.offer_id" class="line">
      <span class="num">{{ l.packs }}</span>
      <span>
        {{ l.title }}
        <span class="quiet why" :class="{ look: l.note || l.days_old }">
          {{ l.why }}{{ l.note ? `; ${l.note}` : '' }}
        </span>
      </span>
      <span class="num">{{ l.each }}</span>
      <span class="num">{{ l.sum }}</span>
    </div>
  </div>
  <ul v-if="basket.empty.length" id="empty" class="plain">
    <li v-for="e in basket.empty" :key="e" class="look">{{ e }}</li>
  </ul>
  <ul v-if="basket.left.length" id="left" class="plain" aria-label="Left out">
    <li v-for="l in basket.left" :key="l.offer_id">
      {{ 'Left out: ' }}
      <b>{{ l.title }}</b>
      {{ `from ${l.seller}: ${l.why}` }}
      <template v-if="l.may && writes">
        <form v-if="asked === l.offer_id" class="row" @submit.prevent="bring(l.offer_id)">
          <ElInput
            v-model="why"
            maxlength="200"
            placeholder="why it is taken all the same"
            aria-label="Why it is taken"
          />
          <ElButton native-type="submit" :disabled="!why.trim()">Take it</ElButton>
        </form>
        <button v-else class="bare link" @click="asked = l.offer_id">take it all the same</button>
      </template>
    </li>
  </ul>
  <ul v-if="overrides.length" class="plain">
    <li v-for="o in overrides" :key="o.offer_id" class="look">
      Taken against the advice: {{ o.why }}
      <button class="bare link" @click="overrides = overrides.filter((x) => x !== o)">leave it out again</button>
    </li>
  </ul>
  <div v-if="basket.sellers.length" class="sum">
    <span>Parts {{ basket.parts }}, delivery {{ basket.delivery }}</span>
    <b class="num">{{ basket.total }}</b>
  </div>
  <div v-if="basket.others.length" class="row no-print also">
    also in
    <ElSelect v-model="show" :teleported="false" clearable aria-label="Total also in" style="width: 100px">
      <ElOption v-for="c in basket.others" :key="c" :value="c" :label="c" />
    </ElSelect>
  </div>
  <p class="quiet">
    {{ dated(notes(basket).join(' ')) }}
  </p>
  <p v-for="u in basket.unrated" :key="u" class="look">{{ u }}</p>
</template>

<style scoped>
.seller {
  margin-bottom: 14px;
}
.head,
.sum {
  display: flex;
  gap: 12px;
  justify-content: space-between;
  align-items: baseline;
  padding: 7px 0;
  border-bottom: 1px solid var(--line);
}
.head > :first-child {
  flex: 1;
}
.line {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr) auto auto;
  gap: 0 12px;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
  font-size: 15px;
}
.num {
  text-align: right;
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}
.why {
  display: block;
}
.quiet {
  font-size: 14px;
}
.sum {
  border-top: 1px solid var(--ink);
  border-bottom: 0;
  font-size: 17px;
}
.link {
  color: var(--slate);
  text-decoration: underline;
  cursor: pointer;
}
@media (max-width: 600px) {
  .line {
    grid-template-columns: 34px minmax(0, 1fr) auto;
  }
  .line > :nth-child(3) {
    display: none;
  }
}
</style>
