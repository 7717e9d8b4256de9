<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import type { Reader } from './reader'

/** What can be written, shown by what was written: the last lines of this workshop, and how they are read here. */
const props = defineProps<{ lines: string[]; context: Schemas['BenchlineContext']; reader?: Reader }>()
/** Before anybody wrote a line: lines as people begin with them. */
const first = [
  'battery out',
  '2 five-lobe bottom',
  'upper shield off, 4 star',
  'again 4 min',
  'loudspeaker and earpiece out',
  'battery back in',
  'glued, gave up',
  'no, 3',
]
const read = computed(() =>
  (props.lines.length ? props.lines : first).map((line) => ({
    line,
    say: props.reader?.read(props.context, [], line).say ?? '',
  })),
)
</script>

<template>
  <table class="examples">
    <caption class="quiet">
      {{ lines.length ? 'Lines that were written last in this workshop' : 'Lines to begin with' }}, and how they are
      read on this phone. Write as you would say it; several facts go into one line.
    </caption>
    <tbody>
      <tr v-for="r in read" :key="r.line">
        <th scope="row" class="fig">{{ r.line }}</th>
        <td>{{ r.say }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
caption {
  text-align: left;
  padding-bottom: 4px;
}
th,
td {
  padding: 3px 18px 3px 0;
  font-size: 15px;
  text-align: left;
  vertical-align: top;
}
th {
  color: var(--ink);
  font-weight: 400;
  border-bottom: 1px solid var(--line);
}
</style>
