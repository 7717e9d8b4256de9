<script setup lang="ts">
import { ElButton } from 'element-plus'

import type { Schemas } from '../../api/client'

/** The three steps of a store in which nothing is on record. */
defineProps<{ steps: Schemas['FirstStep'][] }>()
defineEmits<{ study: [] }>()
</script>

<template>
  <section>
    <h2>Three steps to begin</h2>
    <ol class="plain">
      <li v-for="(s, i) in steps" :key="s.title" :class="{ done: s.done }">
        <span class="fig" aria-hidden="true">{{ s.done ? '✓' : i + 1 }}</span>
        <span class="words">
          <b>{{ s.title }}{{ s.done ? ': done' : '' }}</b>
          <small class="quiet">{{ s.why }}</small>
        </span>
        <template v-if="s.mine">
          <ElButton v-if="s.path.startsWith('/?new')" :type="s.done ? undefined : 'primary'" @click="$emit('study')">
            {{ s.title }}
          </ElButton>
          <RouterLink v-else :to="s.path" class="el-button" :class="{ 'el-button--primary': !s.done }">
            {{ s.title }}
          </RouterLink>
        </template>
        <span v-else class="quiet">{{ s.done ? '' : 'somebody with that right does this' }}</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
li {
  display: flex;
  gap: 14px;
  align-items: center;
  flex-wrap: wrap;
  min-height: 60px;
}
.words {
  flex: 1;
  min-width: 220px;
  display: flex;
  flex-direction: column;
}
b {
  font-size: 17px;
}
small {
  font-size: 15px;
}
.done b {
  font-weight: 400;
}
a {
  display: inline-flex;
  align-items: center;
  padding: 8px 15px;
  text-decoration: none;
}
</style>
