<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take } from '../../api/client'
import { useFurther } from '../../shared/useFurther'
import { useRoom } from '../../shared/useRoom'
import { said } from './said'
import TrailLines from './TrailLines.vue'

/** Who did what: every change, by row, study and person. */
const route = useRoute()
const router = useRouter()
const q = (k: string) => String(route.query[k] ?? '')
const ask = (v: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...v } })
const who = computed({ get: () => q('account'), set: (v) => void ask({ account: v || undefined }) })
const entity = computed({ get: () => q('entity'), set: (v) => void ask({ entity: v || undefined }) })
const study = computed({ get: () => q('study'), set: (v) => void ask({ study: v || undefined }) })
const query = computed(() => ({ row: q('row'), study: study.value, account: who.value, entity: entity.value }))
const { room, error } = useRoom(
  () => ['trail', query.value],
  () => api.GET('/api/trail', { params: { query: query.value } }),
)
const { room: studies } = useRoom(['studies', ''], () => api.GET('/api/studies'))
const {
  all: lines,
  more,
  onward,
  trouble,
} = useFurther(
  room,
  (r) => r.lines,
  (r) => r.more,
  (before) => take(api.GET('/api/trail', { params: { query: { ...query.value, before } } })),
)
const file = computed(
  () => `/api/trail/table?${new URLSearchParams(Object.entries(query.value).filter(([, v]) => v)).toString()}`,
)
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <h1 v-else class="answer ask">Who did what, the newest first.</h1>
    <div v-if="room" class="stage wide">
      <div class="row no-print asked">
        <ElSelect v-model="who" :teleported="false" clearable filterable aria-label="Who" placeholder="everybody">
          <ElOption v-for="p in room.people" :key="p.id" :value="p.id" :label="p.name" />
        </ElSelect>
        <ElSelect v-model="entity" :teleported="false" clearable filterable aria-label="What" placeholder="everything">
          <ElOption v-for="e in room.entities" :key="e" :value="e" :label="said(e)" />
        </ElSelect>
        <ElSelect v-model="study" :teleported="false" clearable filterable aria-label="Study" placeholder="every study">
          <ElOption v-for="s in studies ?? []" :key="s.study.id" :value="s.study.id" :label="s.study.title" />
        </ElSelect>
        <ElButton v-if="q('row')" @click="ask({ row: undefined })">All rows</ElButton>
        <a :href="file">As a table (CSV)</a>
      </div>
      <TrailLines :lines="lines" backs @row="(id) => ask({ row: id })" />
      <p v-if="!lines.length" class="quiet">No change matches.</p>
      <ElButton v-if="more" class="below" @click="onward">Older lines</ElButton>
      <p v-if="trouble" class="danger" role="alert">{{ trouble }}</p>
    </div>
  </div>
</template>

<style scoped>
.below {
  margin-top: 8px;
}
.asked :deep(.el-select) {
  width: 190px;
}
.asked {
  margin-bottom: 14px;
}
.wide {
  grid-column: 1 / -1;
}
</style>
