<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { useRouter } from 'vue-router'

import type { Schemas } from '../api/client'
import EvidenceEye from './EvidenceEye.vue'
import { minutes } from './format'
import { first, typing } from './keys'
import { dated } from './locale'

/** What may be done next: the key, what to do, why, what it takes. The first one is the act that a newcomer should do. */
const props = defineProps<{ acts: Schemas['FirstNext'][]; studies?: Schemas['FirstStudyLine'][] }>()
const study = (id?: string) => props.studies?.find((s) => s.id === id)
const router = useRouter()
useEventListener('keydown', (e: KeyboardEvent) => {
  if (typing(e) || e.ctrlKey || e.metaKey || e.altKey) return
  const a = first(e) ? props.acts[0] : props.acts[Number(e.key) - 1]
  if (!a) return
  e.preventDefault()
  void router.push(a.path)
})
</script>

<template>
  <ol class="acts plain">
    <li v-for="(a, i) in acts" :key="a.path + a.title">
      <RouterLink :to="a.path" :class="{ first: !i, look: a.look }">
        <span class="keys">{{ i + 1 }}</span>
        <span class="words">
          <b>{{ a.title }}</b>
          <small v-if="a.why">{{ dated(a.why.charAt(0).toUpperCase() + a.why.slice(1)) }}</small>
        </span>
        <span v-if="study(a.study_id)" class="stages">
          <EvidenceEye
            v-for="st in study(a.study_id)!.stages"
            :key="st.id"
            :state="st.eye"
            :label="`${st.title}: ${st.missing ? `missing ${st.missing}` : 'complete'}`"
          />
          <small>{{ study(a.study_id)!.filled }} of {{ study(a.study_id)!.stages.length }} stages done</small>
        </span>
        <span v-if="a.minutes" class="takes">{{ minutes(Math.round(a.minutes)) }}</span>
      </RouterLink>
    </li>
  </ol>
</template>

<style scoped>
li {
  padding: 0 !important;
}
a {
  display: flex;
  gap: 14px;
  align-items: center;
  min-height: 62px;
  padding: 6px 0;
  color: var(--ink);
  text-decoration: none;
}
a:hover b {
  text-decoration: underline;
}
.keys {
  flex: none;
  display: grid;
  place-items: center;
  width: 44px;
  height: 44px;
  font-size: 18px;
}
.words {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
b {
  font-size: 17px;
  line-height: 22px;
  font-weight: 600;
}
small {
  font-size: 15px;
  color: var(--quiet);
}
.stages small {
  display: block;
}
.stages {
  flex: none;
  width: 180px;
}
.takes {
  flex: none;
  min-width: 70px;
  text-align: right;
  font-weight: 600;
  white-space: nowrap;
}
a.first b {
  font-size: 19px;
  line-height: 24px;
}
a.first .keys {
  background: var(--pine);
  color: var(--on-pine);
  border-color: var(--pine);
}
a.look {
  background: var(--amber-wash);
}
@media (max-width: 600px) {
  .stages {
    display: none;
  }
}
</style>
