<script setup lang="ts">
import { useRoute } from 'vue-router'

import { api } from '../../api/client'
import AnswerLine from '../../shared/AnswerLine.vue'
import { figure, range } from '../../shared/format'
import { useRoom } from '../../shared/useRoom'

const route = useRoute()
const id = String(route.params.id)
const { room, error } = useRoom(['score', id], () => api.GET('/api/models/{id}/score', { params: { path: { id } } }))
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <AnswerLine v-else class="answer" :sentence="room?.answer" />
    <template v-if="room">
      <div class="stage">
        <section id="lines">
          <h2>{{ room.model.maker }} {{ room.model.name }}, {{ room.card.school }}</h2>
          <table>
            <thead>
              <tr>
                <th>Line</th>
                <th class="num">Weight</th>
                <th class="bars">0 to 10 points</th>
                <th class="num">Points</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="l in room.card.lines" :id="l.id" :key="l.id">
                <td>
                  <b>{{ l.title }}</b>
                  <br />
                  <span class="quiet">{{ l.reason }}</span>
                </td>
                <td class="num">{{ figure(l.weight, 'points') }}</td>
                <td>
                  <svg viewBox="0 0 100 14" width="150" height="21" aria-hidden="true" preserveAspectRatio="none">
                    <path class="axis" d="M0 12h100M0 9v4M50 10v3M100 9v4" />
                    <rect class="span" :x="l.low * 10" y="3" :width="Math.max(1.5, (l.high - l.low) * 10)" height="6" />
                  </svg>
                </td>
                <td class="num">{{ range(l.low, l.high) }}</td>
              </tr>
            </tbody>
            <tfoot>
              <tr>
                <td colspan="3"><b>Weighted mean</b></td>
                <td class="num">
                  <b>{{ range(room.card.low, room.card.high) }}</b>
                </td>
              </tr>
            </tfoot>
          </table>
        </section>
      </div>
      <div class="shelf">
        <section>
          <h2>The facts behind it</h2>
          <ul class="plain">
            <li v-for="l in room.card.lines" :key="l.id">
              <b>{{ l.title }}</b>
              <br />
              {{ l.facts.length ? l.facts.join(', ') : 'none on record' }}
            </li>
          </ul>
          <RouterLink :to="{ name: 'ways', params: { id }, query: route.query }">The ways they come from</RouterLink>
        </section>
        <section>
          <h2>What would narrow it</h2>
          <ul class="plain">
            <li v-for="l in room.card.lines.filter((x) => x.narrow)" :key="l.id">
              <b>{{ l.title }}:</b>
              {{ l.narrow }}
            </li>
          </ul>
          <p v-if="!room.card.lines.some((l) => l.narrow)" class="quiet">Every line rests on facts.</p>
        </section>
        <p class="quiet">
          Weights and scales are {{ room.card.certainty }} figures. A score from incomplete facts is a range, not a
          number.
        </p>
      </div>
    </template>
  </div>
</template>

<style scoped>
.axis {
  fill: none;
  stroke: var(--strong-line);
  stroke-width: 1;
}
.span {
  fill: var(--pine);
}
.bars {
  width: 170px;
}
tr:focus {
  background: var(--wash);
  outline: none;
}
@media (max-width: 600px) {
  .bars,
  td:nth-child(3):not([colspan]) {
    display: none;
  }
}
</style>
