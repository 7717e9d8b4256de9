<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ElDialog } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api } from './api/client'
import SignIn from './rooms/signin/SignIn.vue'
import { useBenchView } from './shared/benchView'
import BrowBar from './shared/BrowBar.vue'
import MergeUndo from './shared/MergeUndo.vue'
import TrailBar from './shared/TrailBar.vue'
import {
  benchKeys,
  endJump,
  jumping,
  keepKey,
  keyOf,
  remap,
  startJump,
  startSeek,
  typing,
  type BenchKey,
} from './shared/keys'
import { useSaved } from './shared/saved'
import { useEvents } from './shared/useEvents'
import { useSession } from './shared/session'
import { useRoom } from './shared/useRoom'

const route = useRoute()
const router = useRouter()
const { me, isPending, error } = useSession()
const saved = useSaved()
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
const { turn } = useBenchView()
const refused = ref('')
const benchList = Object.keys(benchKeys) as BenchKey[]
function change(k: BenchKey, e: Event) {
  const field = e.target as HTMLInputElement
  refused.value = remap(k, field.value.toLowerCase()) ? '' : field.value
  field.value = keyOf(k)
}
const jumps: Record<string, string> = {
  i: 'intake',
  s: 'strip',
  w: 'ways',
  x: 'swap',
  k: 'closeup',
  c: 'score',
  h: 'handover',
}
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || e.ctrlKey || e.metaKey || e.altKey || !me.value?.who) return
  if (keepKey(e)) return
  if (e.key === '/') {
    e.preventDefault()
    if (route.name === 'find') return document.querySelector<HTMLInputElement>('#find')?.focus()
    startSeek()
    void router.push('/?find')
  } else if (e.key === '?') {
    help.value = true
  } else if (e.key === keyOf('view')) {
    turn()
  } else if (e.key === 'g') {
    startJump()
  } else if (jumping() && jumps[e.key] && card.value) {
    endJump()
    const name = jumps[e.key]!
    const model = name === 'ways' || name === 'score'
    void router.push(
      model
        ? { name, params: { id: card.value.model.id }, query: { study: study.value } }
        : { name, params: { id: study.value } },
    )
  }
})
</script>

<template>
  <a class="skip" href="#room">To the room</a>
  <BrowBar
    :study="card ? `${card.model.maker} ${card.model.name}: ${card.study.title}` : undefined"
    @help="help = true"
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
  <ElDialog v-model="help" title="Keys" :width="420" top="4vh">
    <table class="list">
      <tbody>
        <tr>
          <td class="num">/</td>
          <td>find a phone, part or code</td>
        </tr>
        <tr>
          <td class="num">g then i s w x k c h</td>
          <td>intake, strip-down, ways, swap tests, close-up, score, hand-over</td>
        </tr>
        <tr>
          <td class="num">1 … 8</td>
          <td>strip-down: log the step on that tile</td>
        </tr>
        <tr v-for="k in benchList" :key="k">
          <td class="num">
            <input
              class="fig remap"
              maxlength="1"
              :value="keyOf(k)"
              :aria-label="`Key: ${benchKeys[k][1]}`"
              @change="change(k, $event)"
            />
          </td>
          <td>strip-down: {{ benchKeys[k][1] }}</td>
        </tr>
        <tr>
          <td class="num">p w l s d</td>
          <td>intake and swap tests: pass, weak, lost, skipped, dark; then the next cell</td>
        </tr>
        <tr>
          <td class="num">n</td>
          <td>new: study, unit, step or trial</td>
        </tr>
        <tr>
          <td class="num">e b</td>
          <td>swap tests: start the advised swap; say what was done between trials</td>
        </tr>
        <tr>
          <td class="num">x o r d</td>
          <td>swap board, on a slot: exchange, off, original back, damaged</td>
        </tr>
        <tr>
          <td class="num">p a</td>
          <td>dry run: read the PINE board, the AMBER board</td>
        </tr>
      </tbody>
    </table>
    <p v-if="refused" class="look" role="status">
      “{{ refused }}” is taken by another act, or by tiles and rooms; choose another key.
    </p>
    <p class="quiet">The keys of the strip-down can be put elsewhere: type another one into its field.</p>
  </ElDialog>
</template>

<style scoped>
.list td.num {
  width: 190px;
  padding-right: 14px;
}
.remap {
  width: 34px;
  text-align: center;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--strong-line);
}
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
