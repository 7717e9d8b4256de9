<script setup lang="ts">
import type { Schemas } from '../../api/client'
import StickerTag from '../../shared/StickerTag.vue'
import TermWord from '../../shared/TermWord.vue'

/** What lies on the bench while a trial is written down: phone by phone, what is not the board's own. */
const props = defineProps<{ room: Schemas['SwapRoom'] }>()
const unit = (id?: string) => props.room.units.find((u) => u.id === id)
const odd = (h: Schemas['SwapHousing']) => h.slots.filter((s) => !['own', 'board'].includes(s.state))
</script>

<template>
  <section aria-label="The bench">
    <h2>On the bench now</h2>
    <div v-for="h in room.board.housings" :key="h.unit_id" class="phone">
      <p class="row">
        <StickerTag v-if="unit(h.unit_id)" :unit="unit(h.unit_id)!" />
        <span class="quiet">
          {{
            h.board_unit_id === h.unit_id
              ? 'its own board'
              : h.board_unit_id
                ? `${unit(h.board_unit_id)?.name} board`
                : 'no board'
          }}
        </span>
      </p>
      <ul class="plain">
        <li v-for="s in odd(h).slice(0, 8)" :key="s.piece.part_id">
          {{ s.part }},
          <TermWord :word="s.state" />
          {{ ' ' }}
          <span v-if="s.piece.unit_id" class="quiet">from {{ unit(s.piece.unit_id)?.name }}</span>
          <span v-if="s.spoil" class="look">{{ s.spoil }}</span>
        </li>
        <li v-if="odd(h).length > 8" class="quiet">and {{ odd(h).length - 8 }} more</li>
        <li v-if="!odd(h).length" class="quiet">every piece its own</li>
      </ul>
    </div>
    <p v-if="room.board.mat.length" class="quiet">{{ room.board.mat.length }} pieces on the parts tray.</p>
  </section>
</template>

<style scoped>
.phone {
  margin-bottom: 10px;
}
.phone p {
  margin-bottom: 2px;
}
</style>
