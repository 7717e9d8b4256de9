<script setup lang="ts">
import { ElButton, ElForm, ElFormItem, ElInput } from 'element-plus'
import { nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, ApiError, take, type Problem } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'
import { fieldError } from '../../shared/useChange'
import { useRoom } from '../../shared/useRoom'

/** A one-time link: it sets a password, or makes the first administrator. */
const token = String(useRoute().params.token)
const router = useRouter()
const { become } = useSession()
const { room, error } = useRoom(['link', token], () => api.GET('/api/links/{token}', { params: { path: { token } } }), {
  staleTime: Infinity,
})
const form = ref<{ $el: HTMLElement }>()
watch(room, (now) => now && void nextTick(() => form.value?.$el.querySelector('input')?.focus()), { once: true })
const name = ref('')
const display = ref('')
const password = ref('')
const again = ref('')
const problem = ref<Problem>()
const busy = ref(false)
const other = ref('')
async function set() {
  other.value = password.value === again.value ? '' : 'the same password once more'
  if (other.value) return
  busy.value = true
  problem.value = undefined
  try {
    become(
      await take(
        api.POST('/api/links/{token}', {
          params: { path: { token } },
          body: { name: name.value, display: display.value, password: password.value },
        }),
      ),
    )
    await router.replace('/')
  } catch (e) {
    if (!(e instanceof ApiError)) throw e
    problem.value = e.problem
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="room">
    <div v-if="error" class="answer" role="alert">{{ error.message }}</div>
    <h1 v-else-if="room" class="answer ask">
      {{ room.first ? 'Nobody has an account yet. Make the first administrator.' : `A new password for ${room.name}.` }}
    </h1>
    <div v-if="room && !error" class="stage">
      <ElForm ref="form" novalidate label-position="top" class="form" @submit.prevent="set">
        <template v-if="room.first">
          <ElFormItem label="Name to sign in with" :error="fieldError(problem, 'name')">
            <ElInput v-model="name" maxlength="64" autocomplete="username" />
          </ElFormItem>
          <ElFormItem label="Name that others see" :error="fieldError(problem, 'display')">
            <ElInput v-model="display" maxlength="120" />
          </ElFormItem>
        </template>
        <ElFormItem label="Password" :error="fieldError(problem, 'password')">
          <ElInput v-model="password" type="password" maxlength="200" autocomplete="new-password" />
        </ElFormItem>
        <ElFormItem label="Once more" :error="other">
          <ElInput v-model="again" type="password" maxlength="200" autocomplete="new-password" />
        </ElFormItem>
        <p class="quiet">Three or four words that do not belong together are enough.</p>
        <ProblemNote :problem="problem" />
        <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!password">
          Set it and sign in
        </ElButton>
      </ElForm>
    </div>
  </div>
</template>

<style scoped>
.form {
  max-width: 420px;
}
</style>
