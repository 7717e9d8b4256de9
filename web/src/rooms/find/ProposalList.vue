<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElButton } from 'element-plus'

import { api, take, type Schemas } from '../../api/client'
import { jumping, typing } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'

/** What technicians saw of models: an analyst takes it into the record with one key. */
const { room } = useRoom(['proposals'], () => api.GET('/api/proposals'))
const { problem, mine, theirs, busy, save } = useChange()
const answer = (p: Schemas['ProposeLine'], accept: boolean) =>
  save((v, header) =>
    take(
      api.PUT('/api/proposals/{id}', {
        params: { path: { id: p.id }, header },
        body: { version: v ?? p.version, accept },
      }),
    ),
  )
useEventListener('keydown', (e: KeyboardEvent) => {
  const p = room.value?.[0]
  if (!p || typing(e) || jumping() || e.ctrlKey || e.metaKey || e.altKey) return
  if (e.key === 'y') void answer(p, true)
  else if (e.key === 'x') void answer(p, false)
  else return
  e.preventDefault()
})
</script>

<template>
  <section v-if="room?.length" id="proposals">
    <h2>Technicians propose</h2>
    <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
    <ul class="plain">
      <li v-for="(p, i) in room" :key="p.id">
        <span>
          <b>{{ p.model }}</b>
          : {{ p.says }}
          <small class="quiet">{{ p.who }}</small>
        </span>
        <ElButton :type="i ? undefined : 'primary'" :disabled="busy" @click="answer(p, true)">
          Take it into the record
          <span v-if="!i" class="keys">y</span>
        </ElButton>
        <ElButton :disabled="busy" @click="answer(p, false)">
          No
          <span v-if="!i" class="keys">x</span>
        </ElButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  display: flex;
  gap: 12px;
  align-items: center;
}
li > span {
  flex: 1;
}
</style>
