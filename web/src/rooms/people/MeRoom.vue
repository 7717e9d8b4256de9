<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ElButton, ElForm, ElFormItem, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, ApiError, take, type Problem } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { fieldError } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'
import SignInList from './SignInList.vue'
import TokenList from './TokenList.vue'
import TrailLines from './TrailLines.vue'

/** One's own account: the password, and where one is signed in. */
const { me } = useSession()
const { room: list, again } = useRoom(['own-sign-ins'], () => api.GET('/api/session/sign-ins'))
const { room: news, again: newsAgain } = useRoom(['told'], () => api.GET('/api/session/told'))
const { room: tokens, again: tokensAgain } = useRoom(['own-tokens'], () => api.GET('/api/session/tokens'))
const router = useRouter()
const leads = computed(() => ['analyst', 'administrator'].includes(me.value?.who?.role ?? ''))
const client = useQueryClient()
async function see() {
  await take(api.PUT('/api/session/told', { body: { line: news.value?.lines[0]?.id ?? 1 } }))
  await newsAgain()
  await client.invalidateQueries({ queryKey: ['session'] })
}
const old = ref('')
const password = ref('')
const twice = ref('')
const problem = ref<Problem>()
const other = ref('')
const told = ref('')
const busy = ref(false)
async function change() {
  told.value = ''
  other.value = password.value === twice.value ? '' : 'the same password once more'
  if (other.value) return
  busy.value = true
  problem.value = undefined
  try {
    await take(api.PUT('/api/session/password', { body: { old: old.value, password: password.value } }))
    old.value = password.value = twice.value = ''
    told.value = 'Changed. All other sign-ins of yours have ended.'
    await again()
  } catch (e) {
    if (!(e instanceof ApiError)) throw e
    problem.value = e.problem
  } finally {
    busy.value = false
  }
}
async function end(id: string) {
  await take(api.DELETE('/api/session/sign-ins/{id}', { params: { path: { id } } }))
  await again()
}
</script>

<template>
  <div class="room">
    <h1 class="answer ask">{{ `${me?.who?.display}, signed in as ${me?.who?.role}.` }}</h1>
    <div class="stage">
      <section>
        <h2>Where you are signed in</h2>
        <SignInList :list="list ?? []" @end="end" />
      </section>
      <section v-if="news?.lines.length" id="told">
        <h2>
          {{ news.new ? `What others changed in your work: ${news.new} new` : 'What others changed in your work' }}
        </h2>
        <TrailLines :lines="news.lines" @row="(row) => leads && router.push({ name: 'trail', query: { row } })" />
        <ElButton v-if="news.new" class="seen" @click="see">I have seen it</ElButton>
      </section>
      <section id="tokens">
        <h2>Tokens for other programs</h2>
        <TokenList :list="tokens ?? []" @changed="tokensAgain" />
      </section>
      <section>
        <h2>Another password</h2>
        <ElForm novalidate label-position="top" class="form" @submit.prevent="change">
          <input type="text" autocomplete="username" :value="me?.who?.name" hidden />
          <ElFormItem label="The one you have" :error="fieldError(problem, 'old')">
            <ElInput v-model="old" type="password" maxlength="200" autocomplete="current-password" />
          </ElFormItem>
          <ElFormItem label="The new one" :error="fieldError(problem, 'password')">
            <ElInput v-model="password" type="password" maxlength="200" autocomplete="new-password" />
          </ElFormItem>
          <ElFormItem label="Once more" :error="other">
            <ElInput v-model="twice" type="password" maxlength="200" autocomplete="new-password" />
          </ElFormItem>
          <ProblemNote :problem="problem" />
          <p v-if="told" role="status">{{ told }}</p>
          <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!old || !password">
            Change it
          </ElButton>
        </ElForm>
      </section>
    </div>
  </div>
</template>

<style scoped>
.seen {
  margin-top: 10px;
}
.form {
  max-width: 420px;
}
</style>
