<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { computed } from 'vue'
import { useRouter, type RouteLocationRaw } from 'vue-router'

import type { Schemas } from '../api/client'
import { rooms } from '../words'
import { useSession } from './session'

/** All rooms, each with the letter that leads there: the stages of the study that is open, and the library. */
const props = defineProps<{ card?: Schemas['StudyCard'] }>()
const open = defineModel<boolean>({ required: true })
const { me, may } = useSession()
const office = may('people')
const router = useRouter()
interface Way {
  key: string
  words: string
  to: RouteLocationRaw
}
const stages = computed<Way[]>(() => {
  const c = props.card
  if (!c) return []
  const of = (name: string): RouteLocationRaw =>
    name === 'ways' || name === 'score'
      ? { name, params: { id: c.model.id }, query: { study: c.study.id } }
      : { name, params: { id: c.study.id } }
  const list: [string, string][] = [
    ['i', 'intake'],
    ['s', 'strip'],
    ['w', 'ways'],
    ['x', 'swap'],
    ['k', 'closeup'],
    ['c', 'score'],
    ['h', 'handover'],
    ['r', 'narration'],
  ]
  return list.map(([key, name]) => ({ key, words: rooms[name]!, to: of(name) }))
})
const library = computed<Way[]>(() => {
  const query = props.card ? { model: props.card.model.id, study: props.card.study.id } : {}
  const list: [string, string][] = [
    ['g', 'find'],
    ['f', 'fit'],
    ['m', 'compare'],
    ['p', 'parts'],
    ['d', 'day'],
    ['y', 'dry-runs'],
    ['u', 'me'],
  ]
  if (['analyst', 'administrator'].includes(me.value?.who?.role ?? '')) list.push(['t', 'trail'])
  if (office.value) list.push(['a', 'accounts'])
  return list.map(([key, name]) => ({
    key,
    words: rooms[name]!,
    to: name === 'find' ? '/' : { name, query: name === 'me' ? {} : query },
  }))
})
async function go(w: Way) {
  open.value = false
  await router.push(w.to)
}
function key(e: KeyboardEvent) {
  const w = [...stages.value, ...library.value].find((x) => x.key === e.key)
  if (!w || e.ctrlKey || e.metaKey || e.altKey) return
  e.preventDefault()
  e.stopPropagation()
  void go(w)
}
defineExpose({ key })
</script>

<template>
  <ElDialog v-model="open" title="Rooms" :width="520" top="6vh" append-to-body>
    <div class="rooms" :class="{ two: stages.length }">
      <section v-if="card && stages.length">
        <h3>{{ card.model.name }}, {{ card.study.title }}</h3>
        <ul class="plain">
          <li v-for="w in stages" :key="w.key">
            <button class="bare" @click="go(w)">
              <span class="keys">{{ w.key }}</span>
              {{ w.words }}
            </button>
          </li>
        </ul>
      </section>
      <section>
        <h3>All rooms</h3>
        <ul class="plain">
          <li v-for="w in library" :key="w.key">
            <button class="bare" @click="go(w)">
              <span class="keys">{{ w.key }}</span>
              {{ w.words }}
            </button>
          </li>
        </ul>
      </section>
    </div>
  </ElDialog>
</template>

<style scoped>
.rooms.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 28px;
}
h3 {
  font-size: 15px;
  padding-bottom: 6px;
  border-bottom: 1px solid var(--ink);
}
li {
  padding: 0 !important;
}
button {
  width: 100%;
  min-height: 40px;
}
.keys {
  display: inline-block;
  width: 22px;
  text-align: center;
  margin-right: 10px;
}
@media (max-width: 600px) {
  .rooms.two {
    grid-template-columns: 1fr;
  }
}
</style>
