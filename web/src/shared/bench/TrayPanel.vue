<script setup lang="ts">
import { ElButton } from 'element-plus'

import ProblemNote from '../ProblemNote.vue'
import { useOutbox, type Waiting } from './outbox'

/** Entries that the server refused, with both sides. They wait here; they never pop up in mid-step. */
defineProps<{ tray: Waiting[] }>()
const outbox = useOutbox()
function force(e: Waiting) {
  const now = (e.problem?.current as { version?: number } | undefined)?.version
  void outbox.again(e, now ? { path: e.path.replace(/version=\d+/, `version=${now}`) } : {})
}
</script>

<template>
  <section v-if="tray.length" id="tray">
    <h2>Refused: mend or discard</h2>
    <ul class="plain">
      <li v-for="e in tray" :key="e.seq">
        <b>{{ e.text }}</b>
        <ProblemNote :problem="e.problem" />
        <div class="row">
          <ElButton size="small" @click="force(e)">Send again</ElButton>
          <ElButton size="small" @click="outbox.drop(e)">Discard</ElButton>
        </div>
      </li>
    </ul>
  </section>
</template>
