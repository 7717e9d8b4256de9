<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed, useTemplateRef, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { clock as time, count } from './format'
import { useBenchView } from './benchView'
import { useRunning } from './bench/clocks'
import { useOutbox } from './bench/outbox'
import FindField from './FindField.vue'
import { keyOf, roomsOpen } from './keys'
import ReadOuts from './ReadOuts.vue'
import { useSaved } from './saved'
import { useSession } from './session'

defineProps<{ study?: string }>()
const emit = defineEmits<{ help: []; mend: [] }>()
const theme = useLocalStorage<'day' | 'night'>('waryowl-theme', 'day')
watchEffect(() => (document.documentElement.dataset.theme = theme.value))
const saved = useSaved()
const { large, turn } = useBenchView()
const outbox = useOutbox()
const waiting = computed(() => saved.waiting + outbox.waiting.length + outbox.coming)
const { me, signOut, leaving } = useSession()
const router = useRouter()
const route = useRoute()
/** The loudest clock stays in sight wherever somebody goes. */
const { running } = useRunning()
const loudest = computed(() => running.value.find((c) => c.path && c.path !== route.path))
async function leave() {
  await signOut()
  await router.push('/')
}
const finder = useTemplateRef<InstanceType<typeof FindField>>('finder')
defineExpose({ find: () => finder.value?.focus(), put: (text: string) => finder.value?.put(text) })
</script>

<template>
  <nav class="brow no-print" aria-label="Wary Owl">
    <RouterLink to="/" class="mark" aria-label="Wary Owl, to the first page">
      <svg width="44" height="20" viewBox="0 0 44 20" aria-hidden="true">
        <path class="lid" d="M1 10q9-11 18 0-9 10-18 0zM25 10q9-11 18 0-9 10-18 0z" />
        <circle cx="10" cy="10" r="4" />
        <circle cx="34" cy="10" r="4" />
        <path class="beak" d="m20 12 2 5 2-5z" />
      </svg>
      <span class="wordmark">Wary Owl</span>
    </RouterLink>
    <span class="study" :title="study">{{ study }}</span>
    <FindField v-if="me?.who" ref="finder" />
    <div class="tools">
      <RouterLink v-if="me?.who && loudest" :to="loudest.path!" class="clock" :class="{ look: loudest.left <= 0 }">
        {{ loudest.name }}
        <b class="fig">{{ loudest.left > 0 ? time(loudest.left) : `+${time(-loudest.left)}` }}</b>
      </RouterLink>
      <ReadOuts v-if="me?.who" :signed-in="!leaving" />
      <button v-if="me?.who && outbox.tray.length" class="bare look mend" @click="emit('mend')">
        {{ outbox.tray.length === 1 ? '1 entry was' : `${outbox.tray.length} entries were` }} refused: mend
      </button>
      <span v-if="me?.who" class="saved" :class="{ look: waiting }" role="status">
        <template v-if="waiting && !outbox.reached">offline, {{ waiting }} unsent</template>
        <template v-else-if="saved.again">busy: asking again</template>
        <template v-else-if="waiting">saving {{ count(waiting, 'entry', 'entries') }}</template>
        <template v-else-if="outbox.known && !outbox.tray.length">all saved</template>
      </span>
      <button v-if="me?.who" class="bare" @click="roomsOpen = true">
        Rooms
        <span class="keys">g</span>
      </button>
      <button class="bare" @click="theme = theme === 'day' ? 'night' : 'day'">
        {{ theme === 'day' ? 'Night' : 'Day' }}
      </button>
      <button v-if="me?.who" class="bare view" :aria-pressed="large" @click="turn">
        Bench view
        <span class="keys">{{ keyOf('view') }}</span>
      </button>
      <button class="bare help" aria-label="? keys" @click="emit('help')"><span class="keys">?</span></button>
      <template v-if="me?.who">
        <RouterLink :class="['who', { told: me.told }]" to="/me">
          <span class="name">{{ me.who.display }}</span>
          <b v-if="me.told" class="look">
            {{ me.told }}
            <span class="words">changed by others</span>
          </b>
        </RouterLink>
        <button class="bare link out" @click="leave">Sign out</button>
      </template>
    </div>
  </nav>
</template>

<style scoped>
.brow {
  min-height: 48px;
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 20px;
  border-bottom: 1px solid var(--ink);
  background: var(--ground);
  position: sticky;
  top: 0;
  z-index: 20;
}
.mark {
  display: flex;
  gap: 9px;
  align-items: center;
  font-weight: 600;
  font-size: 18px;
  color: var(--ink);
  text-decoration: none;
  white-space: nowrap;
}
.lid {
  fill: none;
  stroke: var(--pine);
  stroke-width: 2;
}
circle {
  fill: var(--pine);
}
.beak {
  fill: var(--amber-fill);
}
.study {
  flex: 1 1 120px;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--quiet);
}
.tools {
  display: flex;
  gap: 14px;
  align-items: center;
  white-space: nowrap;
}
.clock {
  color: var(--ink);
}
.clock.look {
  color: var(--amber);
}
.saved {
  color: var(--quiet);
  font-size: 14px;
}
.mend {
  text-decoration: underline;
}
@media (max-width: 1240px) {
  .who .words {
    display: none;
  }
}
@media (max-width: 760px) {
  .study,
  .wordmark,
  .who:not(.told),
  .view,
  .help,
  .tools .keys {
    display: none;
  }
  .who .name,
  .who .words {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  .brow {
    padding: 0 12px;
    gap: 8px;
    justify-content: space-between;
  }
  .tools {
    gap: 10px;
    font-size: 14px;
  }
}
@media (max-width: 430px) {
  .brow {
    padding: 0 8px;
    gap: 6px;
  }
  .tools {
    gap: 8px;
  }
  .saved:not(.look) {
    display: none;
  }
}
</style>
