<script setup lang="ts">
import type { Schemas } from '../../api/client'
import DriveMark from '../../shared/DriveMark.vue'
import { clock } from '../../shared/format'
import { act, toolOf } from '../../words'

defineProps<{ way: Schemas['ModelWay'] }>()
</script>

<template>
  <ol class="steps">
    <li v-for="(s, i) in way.steps" :key="s.id">
      <span class="n fig">{{ i + 1 }}</span>
      <span class="what">
        <b>{{ act(s.verb, s.what) }}</b>
        {{ s.what }}
        <DriveMark :drive="s.drive" :length="s.length_mm" />
        <span v-if="s.count && s.count > 1" class="fig">×{{ s.count }}</span>
        <small>
          {{ toolOf(s) }}
          <template v-if="s.side !== 'any'">· {{ s.side }} up</template>
          <template v-if="s.frees.length">· comes out</template>
        </small>
      </span>
      <span class="time fig" :title="s.runs ? `${s.runs} timed runs` : 'predicted'">
        {{ clock(s.seconds) }}
        <small>{{ s.runs ? `n=${s.runs}` : 'estimate' }}</small>
      </span>
    </li>
  </ol>
</template>

<style scoped>
.steps {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 28px 1fr auto;
  gap: 6px;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.n {
  color: var(--pine);
}
small {
  display: block;
  color: var(--quiet);
  font-size: 13px;
}
.time {
  text-align: right;
}
</style>
