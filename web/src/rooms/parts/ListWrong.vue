<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { reactive } from 'vue'

import type { Schemas } from '../../api/client'

/** Cells that cannot be taken: each is mended in its place, by the nearest name, by hand, or as something new. */
const props = defineProps<{ look: Schemas['OffersLook'] }>()
const emit = defineEmits<{
  mend: [cell: Schemas['PricelistMended']]
  slot: [name: string]
  seller: [seller: Schemas['OffersNewSeller']]
}>()
type Wrong = Schemas['OffersWrong']
const typed = reactive<Record<string, string>>({})
const currency = reactive<Record<string, string>>({})
const key = (e: Wrong) => `${e.line} ${e.column || e.field}`
const mend = (e: Wrong, text: string) => emit('mend', { line: e.line, column: e.column, text })
const shown = () => props.look.errors.slice(0, 30)
/** A seller that is new is asked about once. */
const first = (e: Wrong) => props.look.errors.find((x) => x.field === e.field && x.found === e.found) === e
</script>

<template>
  <section aria-label="Wrong cells">
    <h2>
      Wrong
      <span class="fig">{{ look.counts.wrong }}</span>
    </h2>
    <ul class="plain">
      <li v-for="e in shown()" :key="key(e)" class="danger">
        line {{ e.line }}{{ e.column ? `, column ${e.column}` : '' }}{{ e.head ? ` “${e.head}”` : '' }}:
        {{ e.found ? `“${e.found}”: ` : '' }}{{ e.message }}
        <div v-if="e.column" class="row">
          <ElButton v-for="n in e.near" :key="n" size="small" @click="mend(e, n)">{{ n }}</ElButton>
          <ElInput
            v-model="typed[key(e)]"
            size="small"
            :aria-label="`Line ${e.line}, column ${e.column}, written anew`"
            placeholder="written anew"
            style="width: 150px"
            @keydown.enter="mend(e, typed[key(e)] ?? '')"
          />
          <ElButton size="small" :disabled="!typed[key(e)]" @click="mend(e, typed[key(e)] ?? '')">Mend</ElButton>
          <ElButton v-if="e.field === 'covers' && e.found && first(e)" size="small" @click="emit('slot', e.found)">
            It is a new part
          </ElButton>
          <form
            v-if="e.field === 'seller' && e.found && first(e)"
            class="row"
            @submit.prevent="emit('seller', { name: e.found, currency: (currency[e.found] || 'EUR').toUpperCase() })"
          >
            <ElInput
              v-model="currency[e.found]"
              size="small"
              maxlength="3"
              placeholder="EUR"
              :aria-label="`Currency of ${e.found}`"
              style="width: 64px"
            />
            <ElButton size="small" native-type="submit">Add this seller</ElButton>
          </form>
        </div>
      </li>
    </ul>
    <p v-if="look.errors.length > 30" class="quiet">and {{ look.errors.length - 30 }} more</p>
  </section>
</template>

<style scoped>
.fig {
  color: var(--danger);
}
.row {
  margin-top: 4px;
}
</style>
