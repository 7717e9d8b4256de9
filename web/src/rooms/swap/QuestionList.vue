<script setup lang="ts">
import type { Schemas } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import { say } from '../../words'

/** The statements of the study, and how far the swaps settle them. */
defineProps<{ room: Schemas['SwapRoom'] }>()
</script>

<template>
  <section v-if="room.questions.length" aria-label="To settle">
    <h2>To settle</h2>
    <ul class="plain">
      <li v-for="q in room.questions" :key="q.text" class="q">
        <EvidenceEye :state="q.eye" :label="q.settled ? 'settled' : 'needs a test'" :size="22" />
        <span>
          {{ q.text }}
          <small class="quiet">
            {{ q.state
            }}{{
              q.part
                ? `: another phone’s ${q.part} ${say('verdict', q.verdict ?? 'untested')}${q.trials.length ? `, ${q.trials.join(', ')}` : ''}`
                : '; no part and check of the swaps is linked'
            }}
          </small>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.q {
  display: grid;
  grid-template-columns: 30px 1fr;
  gap: 8px;
}
small {
  display: block;
}
</style>
