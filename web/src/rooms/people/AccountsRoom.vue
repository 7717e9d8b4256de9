<script setup lang="ts">
import { ElButton, ElCheckbox, ElFormItem, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'

import { api, newId, take, type Schemas } from '../../api/client'
import FormDialog from '../../shared/FormDialog.vue'
import { day } from '../../shared/locale'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { fieldError, useChange } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import SignInList from './SignInList.vue'
import TokenList from './TokenList.vue'
import { linkOf, newToken } from './token'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'
import { useRoute, useRouter } from 'vue-router'

/** Who has an account: made, changed, disabled, given a one-time link. */
const { me } = useSession()
const { room: people, error } = useRoom(['accounts'], () => api.GET('/api/accounts'))
const open = computed(() => people.value?.filter((p) => !p.disabled).length ?? 0)
type Role = Schemas['AccountPerson']['role']
const roles: readonly Role[] = ['analyst', 'technician', 'buyer', 'administrator']
const form = ref<Schemas['AccountPerson'] | 'new'>()
const facts = reactive({
  id: '',
  name: '',
  display: '',
  role: 'technician' as Role,
  disabled: false,
  apprentice: false,
})
const link = ref<{ name: string; url: string }>()
let token = ''
function edit(p: Schemas['AccountPerson'] | 'new') {
  form.value = p
  token = newToken()
  Object.assign(
    facts,
    p === 'new'
      ? { id: newId(), name: '', display: '', role: 'technician', disabled: false, apprentice: false }
      : { ...p },
  )
}
const { problem, busy, mine, theirs, send } = useChange(() => {
  if (form.value === 'new') link.value = { name: facts.display || facts.name, url: linkOf(token) }
  form.value = undefined
})
const submit = () =>
  send((v, header) => {
    const { id, name, display, role, disabled, apprentice } = facts
    const p = form.value
    return p === 'new' || !p
      ? take(
          api.POST('/api/accounts', {
            params: { header },
            body: { id, name: name.trim(), display: display.trim() || name.trim(), role, apprentice, token },
          }),
        )
      : take(
          api.PUT('/api/accounts/{id}', {
            params: { path: { id }, header },
            body: { version: v ?? p.version, display: display.trim(), role, disabled, apprentice },
          }),
        )
  })
const other = useChange()
const { problem: refused, save } = other
async function reset(p: Schemas['AccountPerson']) {
  const made = newToken()
  const done = await save((_, header) =>
    take(api.POST('/api/accounts/{id}/link', { params: { path: { id: p.id }, header }, body: { token: made } })),
  )
  if (done) link.value = { name: p.display, url: linkOf(made) }
}
const shown = ref('')
const { room: signIns, again } = useRoom(
  () => ['sign-ins', shown.value],
  () => api.GET('/api/accounts/{id}/sign-ins', { params: { path: { id: shown.value } } }),
  { enabled: () => Boolean(shown.value) },
)
async function end(of: string) {
  await take(api.DELETE('/api/accounts/{id}/sign-ins/{of}', { params: { path: { id: shown.value, of } } }))
  await again()
}
const holder = ref('')
const { room: tokens, again: tokensAgain } = useRoom(
  () => ['tokens', holder.value],
  () => api.GET('/api/accounts/{id}/tokens', { params: { path: { id: holder.value } } }),
  { enabled: () => Boolean(holder.value) },
)
const copied = ref(false)
async function copy() {
  await navigator.clipboard?.writeText(link.value!.url)
  copied.value = Boolean(navigator.clipboard)
}
const print = () => window.print()
const columns: Column<Schemas['AccountPerson']>[] = [
  { id: 'display', title: 'Name', value: (p) => p.display },
  { id: 'name', title: 'Signs in as', value: (p) => p.name },
  { id: 'role', title: 'Role', value: (p) => p.role, few: true },
  { id: 'seen', title: 'Seen', kind: 'date', value: (p) => p.seen },
  { id: 'change', title: 'Change', value: () => '', bare: true },
]
// An address may ask for a new account: the first steps of an empty store do.
const route = useRoute()
const router = useRouter()
if (route.query.new) {
  edit('new')
  void router.replace({ query: {} })
}
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <h1 v-else class="answer ask">{{ `${open} of ${people?.length ?? 0} accounts are open.` }}</h1>
    <div v-if="people" class="stage">
      <section v-if="link" class="link" role="status">
        <h2>A one-time link for {{ link.name }}</h2>
        <p class="url">{{ link.url }}</p>
        <p>It opens once, within three days, and is shown only now. Give it to nobody else.</p>
        <div class="row no-print">
          <ElButton @click="copy">{{ copied ? 'Copied' : 'Copy' }}</ElButton>
          <ElButton @click="print">Print</ElButton>
          <ElButton @click="((link = undefined), (copied = false))">Done</ElButton>
        </div>
      </section>
      <ProblemNote :problem="refused" :mine="other.mine.value" @theirs="other.theirs" />
      <ElButton class="no-print" type="primary" @click="edit('new')">New account</ElButton>
      <DataTable name="accounts" caption="Accounts" :rows="people" :columns="columns" :row-key="(p) => p.id">
        <template #display="{ row: p }">
          {{ p.display }}
          <span v-if="p.disabled" class="look">disabled</span>
          <span v-else-if="p.waiting" class="look">waits for its link</span>
        </template>
        <template #seen="{ row: p }">
          {{ day(p.seen) }}
          <button v-if="p.sign_ins" class="bare under" @click="shown = shown === p.id ? '' : p.id">
            {{ p.sign_ins }} open
          </button>
        </template>
        <template #change="{ row: p }">
          <div class="row acts no-print">
            <ElButton size="small" :aria-label="`Change ${p.display}`" @click="edit(p)">Change</ElButton>
            <ElButton
              v-if="!p.disabled"
              size="small"
              :aria-label="`Tokens of ${p.display}`"
              :aria-pressed="holder === p.id"
              @click="holder = holder === p.id ? '' : p.id"
            >
              Tokens
            </ElButton>
            <ElButton
              v-if="!p.disabled && p.id !== me?.who?.id"
              size="small"
              :aria-label="`One-time link for ${p.display}`"
              @click="reset(p)"
            >
              One-time link
            </ElButton>
          </div>
        </template>
      </DataTable>
      <section v-if="holder" class="no-print below">
        <h2>Tokens of {{ people.find((p) => p.id === holder)?.display }} for other programs</h2>
        <TokenList :key="holder" :list="tokens ?? []" :person="holder" @changed="tokensAgain" />
      </section>
      <section v-if="shown">
        <h2>Open sign-ins of {{ people.find((p) => p.id === shown)?.display }}</h2>
        <SignInList :list="signIns ?? []" @end="end" />
      </section>
    </div>
    <div class="shelf no-print">
      <p class="quiet">
        An administrator never sets or sees a password: the one-time link lets its owner choose one. Disabling ends all
        sign-ins at once, and what was done stays under its name.
      </p>
      <RouterLink :to="{ name: 'trail' }">Who did what</RouterLink>
    </div>
    <FormDialog
      v-if="form"
      :title="form === 'new' ? 'New account' : facts.name"
      :busy="busy"
      :problem="problem"
      :mine="mine"
      @close="form = undefined"
      @theirs="theirs"
      @submit="submit"
    >
      <ElFormItem v-if="form === 'new'" label="Name to sign in with" :error="fieldError(problem, 'name')">
        <ElInput v-model="facts.name" maxlength="64" />
      </ElFormItem>
      <ElFormItem label="Name that others see" :error="fieldError(problem, 'display')">
        <ElInput v-model="facts.display" maxlength="120" />
      </ElFormItem>
      <ElFormItem label="Role" :error="fieldError(problem, 'role')">
        <ElSelect v-model="facts.role" :teleported="false" aria-label="Role">
          <ElOption v-for="r in roles" :key="r" :value="r" :label="r" />
        </ElSelect>
      </ElFormItem>
      <ElCheckbox
        v-if="facts.role === 'technician'"
        v-model="facts.apprentice"
        label="apprentice: another person looks where the office wants it"
      />
      <ElCheckbox v-if="form !== 'new'" v-model="facts.disabled" label="disabled: may not sign in" />
    </FormDialog>
  </div>
</template>

<style scoped>
.acts {
  flex-wrap: nowrap;
  gap: 6px;
}
.below {
  margin-top: 24px;
}
.link {
  border-left: 4px solid var(--amber-fill);
  padding-left: 14px;
  margin-bottom: 18px;
}
.url {
  font-family: var(--mono);
  font-size: 18px;
  overflow-wrap: anywhere;
}
.under {
  text-decoration: underline;
  cursor: pointer;
}
</style>
