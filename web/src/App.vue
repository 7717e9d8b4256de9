<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElDialog } from 'element-plus'
import { computed, ref, useTemplateRef } from 'vue'
import { useRoute } from 'vue-router'

import { api } from './api/client'
import KeyList from './KeyList.vue'
import SignIn from './rooms/signin/SignIn.vue'
import { useOutbox } from './shared/bench/outbox'
import TrayPanel from './shared/bench/TrayPanel.vue'
import { useBenchView } from './shared/benchView'
import BrowBar from './shared/BrowBar.vue'
import { keyOf, roomsOpen, typing } from './shared/keys'
import MergeUndo from './shared/MergeUndo.vue'
import RoomsMenu from './shared/RoomsMenu.vue'
import { useSaved } from './shared/saved'
import { useSession } from './shared/session'
import TrailBar from './shared/TrailBar.vue'
import { useEvents } from './shared/useEvents'
import { useRoom } from './shared/useRoom'

const route = useRoute()
const { me, isPending, error } = useSession()
const saved = useSaved()
const outbox = useOutbox()
useEvents(() => Boolean(me.value?.who))

const study = computed(() =>
  route.meta.study ? String(route.params.id) : ((route.query.study as string | undefined) ?? ''),
)
const { room: card } = useRoom(
  () => ['study', study.value],
  () => api.GET('/api/studies/{id}', { params: { path: { id: study.value } } }),
  { enabled: () => Boolean(me.value?.who && study.value) },
)

const help = ref(false)
const mending = ref(false)
const { turn } = useBenchView()
const brow = useTemplateRef<InstanceType<typeof BrowBar>>('brow')
const menu = useTemplateRef<InstanceType<typeof RoomsMenu>>('menu')
useEventListener(
  'keydown',
  (e: KeyboardEvent) => {
    if (roomsOpen.value) return menu.value?.key(e)
    if (typing(e) || e.ctrlKey || e.metaKey || e.altKey || !me.value?.who) return
    if (e.key === '/') brow.value?.find()
    else if (e.key === '?') help.value = true
    else if (e.key === keyOf('view')) turn()
    else if (e.key === 'g') roomsOpen.value = true
    else return
    e.preventDefault()
    e.stopPropagation()
  },
  { capture: true },
)
</script>

<template>
  <a class="skip" href="#room">To the room</a>
  <BrowBar
    ref="brow"
    :study="card && study ? `${card.model.maker} ${card.model.name}: ${card.study.title}` : undefined"
    @help="help = true"
    @mend="mending = true"
  />
  <div class="frame">
    <TrailBar v-if="me?.who && card && study" :card="card" />
    <main id="room" tabindex="-1">
      <p v-if="isPending" class="wait quiet">
        {{ saved.again ? 'The database does not answer yet; it is asked again by itself …' : 'Opening …' }}
      </p>
      <p v-else-if="error" class="wait" role="alert">{{ error.message }}</p>
      <RouterView v-else-if="route.meta.open" />
      <SignIn v-else-if="!me?.who" />
      <RouterView v-else :key="String(route.params.id ?? '') + String(route.params.part ?? '') + String(route.name)" />
    </main>
  </div>
  <MergeUndo v-if="me?.who" />
  <RoomsMenu v-if="me?.who" ref="menu" v-model="roomsOpen" :card="study ? card : undefined" />
  <ElDialog v-model="mending" title="Entries that the server did not take" :width="560" top="6vh">
    <TrayPanel :tray="outbox.tray" />
    <p v-if="!outbox.tray.length">Nothing is left to mend.</p>
  </ElDialog>
  <ElDialog v-model="help" title="Keys" :width="520" top="4vh">
    <KeyList :room="String(route.name ?? '')" />
  </ElDialog>
</template>

<style scoped>
.frame {
  display: flex;
  align-items: stretch;
  min-height: calc(100vh - 48px);
}
main {
  flex: 1;
  min-width: 0;
}
main:focus {
  outline: none;
}
.wait {
  padding: 24px;
}
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 50;
  background: var(--sheet);
  padding: 8px;
}
@media (max-width: 1023px) {
  .frame {
    flex-direction: column;
  }
}
</style>
