<script setup lang="ts">
import { useTrade } from '../useTrade'

/** The grammar of the bench line, by examples that the parser reads as they stand. */
const { trade } = useTrade()
</script>

<template>
  <table class="grammar">
    <caption class="hidden">The bench line: a verb, then what it is about, in any order</caption>
    <tbody>
      <tr v-for="v in trade.grammar" :key="v.id">
        <th scope="row">
          <span class="keys">{{ v.letter }}</span>
          {{ v.id }}
        </th>
        <td>
          <span v-for="e in v.examples" :key="e" class="fig">{{ e }}</span>
        </td>
      </tr>
      <tr>
        <th scope="row"><span class="keys">+</span></th>
        <td>before a verb: put back</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
th,
td {
  padding: 3px 12px 3px 0;
  font-size: 15px;
}
th {
  white-space: nowrap;
  color: var(--ink);
  border-bottom: 1px solid var(--line);
}
.fig {
  display: inline-block;
  margin-right: 18px;
}
</style>
