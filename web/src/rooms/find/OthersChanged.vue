<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '../../api/client'
import { moment } from '../../shared/locale'
import { useSession } from '../../shared/session'
import { useRoom } from '../../shared/useRoom'
import { done, said } from '../people/said'

/** What others changed in one's work since it was looked at. */
const { me } = useSession()
const { room: news, again } = useRoom(['told'], () => api.GET('/api/session/told'))
const client = useQueryClient()
const router = useRouter()
const few = 4
const leads = computed(() => ['analyst', 'administrator'].includes(me.value?.who?.role ?? ''))
const lines = computed(() => news.value?.lines.slice(0, news.value.new) ?? [])
async function see() {
  await take(api.PUT('/api/session/told', { body: { line: news.value?.lines[0]?.id ?? 1 } }))
  await again()
  await client.invalidateQueries({ queryKey: ['session'] })
}
</script>

<template>
  <section id="told">
    <h2 class="row">
      Changed by others since you were here
      <RouterLink v-if="lines.length > few" to="/me#told">all {{ lines.length }}</RouterLink>
    </h2>
    <ul v-if="lines.length" class="plain">
      <li v-for="l in lines.slice(0, few)" :key="l.id">
        <b>{{ l.who }}</b>
        {{ done[l.verb] ?? l.verb }} {{ said(l.entity) }}
        <button v-if="leads" class="bare under" @click="router.push({ name: 'trail', query: { row: l.row_id } })">
          {{ l.names || 'this one' }}
        </button>
        <template v-else>{{ l.names }}</template>
        <small class="quiet">{{ moment(l.happened) }}</small>
      </li>
    </ul>
    <p v-else class="quiet">Nobody else changed your work.</p>
    <ElButton v-if="lines.length" class="seen" size="small" @click="see">I have seen it</ElButton>
  </section>
</template>

<style scoped>
h2 {
  min-height: 31px;
}
h2 a {
  margin-left: auto;
  font-weight: 400;
}
small {
  display: block;
  font-size: 14px;
}
.under {
  text-decoration: underline;
}
</style>
