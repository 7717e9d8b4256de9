<script setup lang="ts">
import { ElButton, ElCheckbox, ElForm, ElFormItem, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import { day } from '../../shared/locale'
import ProblemNote from '../../shared/ProblemNote.vue'
import { fieldError, useChange } from '../../shared/useChange'
import { newProgramToken } from './token'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

/** What other programs sign in with: made, shown once, revoked. Without a person it is one's own. */
const props = defineProps<{ list: Schemas['Token'][]; person?: string }>()
const emit = defineEmits<{ changed: [] }>()
const kinds = [
  ['models', 'models, parts and plans'],
  ['studies', 'studies and their logs'],
  ['outcomes', 'how jobs went'],
  ['buying', 'sellers, offers and stock'],
  ['jobs', 'jobs'],
  ['visits', 'phones with a fault'],
  ['facts', 'facts for scores'],
  ['trail', 'who did what'],
] as const
const facts = reactive({ name: '', reads_only: true, rooms: [] as string[], days: 90 })
const shown = ref<{ name: string; token: string }>()
const { problem, busy, mine, theirs, save } = useChange()
let id = newId()
let token = newProgramToken()
async function make() {
  const body = { id, token, ...facts, name: facts.name.trim() }
  const made = await save((_, header) =>
    take(
      props.person
        ? api.POST('/api/accounts/{id}/tokens', { params: { path: { id: props.person }, header }, body })
        : api.POST('/api/session/tokens', { params: { header }, body }),
    ),
  )
  if (!made) return
  shown.value = { name: made.name, token }
  id = newId()
  token = newProgramToken()
  facts.name = ''
  emit('changed')
}
async function revoke(t: Schemas['Token']) {
  const gone = await save((_, header) =>
    take(
      props.person
        ? api.DELETE('/api/accounts/{id}/tokens/{of}', { params: { path: { id: props.person, of: t.id }, header } })
        : api.DELETE('/api/session/tokens/{id}', { params: { path: { id: t.id }, header } }),
    ),
  )
  if (gone) emit('changed')
}
const now = Date.now()
const state = (t: Schemas['Token']) =>
  t.revoked_at
    ? `revoked ${day(t.revoked_at)}`
    : Date.parse(t.expires_at) < now
      ? 'expired'
      : `until ${day(t.expires_at)}`
const open = computed(() => props.list.filter((t) => !t.revoked_at && Date.parse(t.expires_at) > now))
const copy = () => shown.value && navigator.clipboard?.writeText(shown.value.token)
const columns: Column<Schemas['Token']>[] = [
  { id: 'name', title: 'Program', value: (t) => t.name },
  {
    id: 'may',
    title: 'May',
    value: (t) => `${t.reads_only ? 'read' : 'read and write'}${t.rooms?.length ? `: ${t.rooms.join(', ')}` : ''}`,
  },
  { id: 'lives', title: 'Lives', value: (t) => state(t) },
  { id: 'used', title: 'Last used', value: (t) => t.last_used_at },
  { id: 'revoke', title: 'Revoke', value: () => '', bare: true },
]
</script>

<template>
  <div>
    <p v-if="shown" class="shown" role="status">
      {{ shown.name }}: copy it now, it is not shown again.
      <code class="fig">{{ shown.token }}</code>
      <ElButton @click="copy">Copy</ElButton>
      <ElButton @click="shown = undefined">I have it</ElButton>
    </p>
    <DataTable
      name="tokens"
      caption="Tokens"
      :rows="list"
      :columns="columns"
      :row-key="(t) => t.id"
      empty="None yet. A till, a label printer or a spreadsheet asks with one."
    >
      <template #used="{ row: t }">
        <span class="whole">{{ t.last_used_at ? `used ${day(t.last_used_at)}` : 'never used' }}</span>
        <small v-if="t.last_used_from" class="quiet">{{ t.last_used_from }}</small>
      </template>
      <template #revoke="{ row: t }">
        <ElButton v-if="open.includes(t)" size="small" @click="revoke(t)">Revoke</ElButton>
      </template>
    </DataTable>
    <ElForm novalidate label-position="top" class="form" @submit.prevent="make">
      <ElFormItem label="The program that uses it" :error="fieldError(problem, 'name')">
        <ElInput v-model="facts.name" maxlength="80" placeholder="till at the counter" />
      </ElFormItem>
      <ElFormItem>
        <ElCheckbox v-model="facts.reads_only" label="It only reads" />
      </ElFormItem>
      <ElFormItem :label="`For which kinds of thing (none chosen: all that ${person ? 'they' : 'you'} may)`">
        <ElSelect v-model="facts.rooms" multiple placeholder="all" aria-label="Kinds of thing">
          <ElOption v-for="[value, label] in kinds" :key="value" :value="value" :label="label" />
        </ElSelect>
      </ElFormItem>
      <ElFormItem label="Days until it expires" :error="fieldError(problem, 'days')">
        <ElInput v-model.number="facts.days" type="number" min="1" max="730" />
      </ElFormItem>
      <ProblemNote :problem="problem" :mine="mine" @theirs="theirs" />
      <ElButton native-type="submit" :loading="busy" :disabled="!facts.name.trim()">Make a token</ElButton>
    </ElForm>
  </div>
</template>

<style scoped>
.shown {
  background: var(--amber-wash);
  padding: 10px 12px;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
}
code {
  overflow-wrap: anywhere;
}
.form {
  max-width: 420px;
  margin-top: 12px;
}
.scroll {
  overflow-x: auto;
}
.whole,
th {
  white-space: nowrap;
}
td,
th {
  padding-right: 12px;
  text-align: left;
}
@media (max-width: 600px) {
  thead {
    position: absolute;
    left: -999px;
  }
  tr {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 14px;
    align-items: center;
    padding: 6px 0;
    border-bottom: 1px solid var(--line);
  }
  td {
    border: 0;
    padding: 0;
  }
  td:first-child {
    flex-basis: 100%;
  }
  td:last-child {
    margin-left: auto;
  }
}
</style>
