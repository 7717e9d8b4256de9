<script setup lang="ts">
import { onClickOutside, refDebounced } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, type Schemas } from '../api/client'
import { kinds } from '../words'
import { codePath, isCode } from './labels'
import { useRoom } from './useRoom'

/**
 * The find field of the brow: what is met stands below it by kind while one types. Enter opens the first, the arrows choose
 * another; the query stays in the field, so that coming back goes on where it was.
 */
const box = useTemplateRef<HTMLElement>('box')
const field = useTemplateRef<HTMLInputElement>('field')
const query = ref('')
const open = ref(false)
const asked = refDebounced(query, 120)
const { room } = useRoom(
  () => ['find', asked.value.trim()],
  () => api.GET('/api/find', { params: { query: { q: asked.value.trim().slice(0, 200) } } }),
  { enabled: () => open.value && Boolean(asked.value.trim()) },
)
const shown = computed(() => (open.value && query.value.trim() ? room.value : undefined))
const hits = computed(() => shown.value?.groups.flatMap((g) => g.hits) ?? [])
const at = ref(0)
watch(hits, () => (at.value = 0))
const route = useRoute()
const router = useRouter()
// The query stands in the address of the first page: Back keeps it.
watch(
  () => route.query.q,
  (q) => typeof q === 'string' && (query.value = q),
  { immediate: true },
)
async function go(h: Schemas['FindHit'] | undefined) {
  if (!h) return
  open.value = false
  field.value?.blur()
  if (route.name === 'find') await router.replace({ query: { ...route.query, q: query.value.trim() } })
  await router.push(h.path)
}
/** What is typed and not looked up yet: Enter waits for its answer. */
const settled = () => room.value?.query === query.value.trim()
async function enter() {
  if (await coded()) return
  if (settled()) return go(hits.value[at.value])
  const stop = watch([room, asked], () => {
    if (!settled()) return
    stop()
    void nextTick(() => go(hits.value[at.value]))
  })
}
/** A code as printed on our labels leads to its thing at once: a hand scanner types it. */
async function coded() {
  const text = query.value.trim()
  if (!isCode(text)) return false
  const path = await codePath(text)
  if (!path) return false
  query.value = ''
  await go({ title: '', path })
  return true
}
watch(query, () => void (isCode(query.value.trim()) && coded()))
function key(e: KeyboardEvent) {
  if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
    e.preventDefault()
    const n = hits.value.length
    if (n) at.value = (at.value + (e.key === 'ArrowDown' ? 1 : n - 1)) % n
  } else if (e.key === 'Escape') {
    if (open.value && query.value) open.value = false
    else field.value?.blur()
  }
}
onClickOutside(box, () => (open.value = false))
function focus() {
  open.value = true
  field.value?.focus()
  field.value?.select()
}
function put(text: string) {
  query.value = text
  focus()
}
defineExpose({ focus, put })
</script>

<template>
  <search ref="box" class="find" :class="{ open }">
    <label class="hidden" for="find">Find anything</label>
    <input
      id="find"
      ref="field"
      v-model="query"
      type="search"
      maxlength="200"
      autocomplete="off"
      spellcheck="false"
      placeholder="Find: model, part, phone, code"
      role="combobox"
      aria-autocomplete="list"
      :aria-expanded="Boolean(shown)"
      aria-controls="found"
      :aria-activedescendant="hits.length ? `hit-${at}` : undefined"
      @focus="open = true"
      @input="open = true"
      @keydown="key"
      @keydown.enter.prevent="enter"
    />
    <span v-if="!open" class="keys" aria-hidden="true">/</span>
    <div v-if="shown && hits.length" id="found" class="found" role="listbox" aria-label="What was found">
      <div v-for="g in shown.groups" :key="g.kind" role="group" :aria-label="kinds[g.kind]">
        <p class="quiet kind" role="presentation">{{ kinds[g.kind] }}</p>
        <a
          v-for="h in g.hits"
          :id="`hit-${hits.indexOf(h)}`"
          :key="h.path + h.title"
          role="option"
          :href="h.path"
          :aria-selected="hits[at] === h"
          @mousemove="at = hits.indexOf(h)"
          @click.exact.prevent="go(h)"
        >
          <b>{{ h.title }}</b>
          <span class="quiet">{{ h.note }}</span>
        </a>
      </div>
    </div>
    <p v-else-if="shown" id="found" class="found none" role="status">
      Nothing on record for “{{ query.trim().slice(0, 40) }}”. Try fewer letters, another name, or the code printed on
      the connector.
    </p>
  </search>
</template>

<style scoped>
.find {
  position: relative;
  flex: 0 1 300px;
  min-width: 120px;
}
input {
  font: inherit;
  width: 100%;
  height: 34px;
  padding: 0 30px 0 10px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
  border-radius: 2px;
}
.keys {
  position: absolute;
  right: 8px;
  top: 7px;
}
.found {
  position: absolute;
  top: 38px;
  left: 0;
  width: max(100%, min(460px, 92vw));
  max-height: calc(100vh - 100px);
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--ink);
  padding: 6px 0 10px;
  z-index: 30;
}
.kind {
  margin: 8px 14px 2px;
  font-size: 14px;
}
a {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  padding: 7px 14px;
  min-height: 38px;
  color: var(--ink);
  text-decoration: none;
}
a[aria-selected='true'] {
  background: var(--wash);
  box-shadow: inset 4px 0 var(--pine);
}
.none {
  margin: 0;
  padding: 12px 14px;
}
@media (max-width: 760px) {
  .find {
    flex: 1 1 90px;
    min-width: 60px;
  }
  .find .keys {
    display: none;
  }
  .found {
    position: fixed;
    top: 48px;
    left: 0;
    width: 100vw;
    max-height: calc(100vh - 48px);
  }
}
</style>
