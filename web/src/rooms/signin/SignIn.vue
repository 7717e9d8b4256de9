<script setup lang="ts">
import { ElButton, ElForm, ElFormItem, ElInput } from 'element-plus'
import { ref } from 'vue'

import { ApiError, type Problem } from '../../api/client'
import EvidenceEye from '../../shared/EvidenceEye.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useSession } from '../../shared/session'

const { me, signIn } = useSession()
const name = ref('')
const password = ref('')
const problem = ref<Problem>()
const busy = ref(false)

async function enter(n: string, p: string) {
  busy.value = true
  problem.value = undefined
  try {
    await signIn(n, p)
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    problem.value = error.problem
  } finally {
    busy.value = false
  }
}
const does: Record<string, string> = {
  analyst: 'opens phones, records, swaps, scores',
  technician: 'reads, and says how a job went',
  buyer: 'reads what fits, what is lost, what to stock',
  administrator: 'keeps the accounts',
}
</script>

<template>
  <div class="door">
    <section>
      <h1>How sure are we?</h1>
      <p class="lead">
        Wary Owl keeps what a bench has really seen: the way to each part, the swaps and what they lose, and how easy a
        phone is to repair.
      </p>
      <ul class="plain eyes">
        <li>
          <EvidenceEye state="shut" :size="30" />
          <span>not known: nothing seen</span>
        </li>
        <li>
          <EvidenceEye state="half" :size="30" />
          <span>likely: seen once, or inferred</span>
        </li>
        <li>
          <EvidenceEye state="open" :size="30" />
          <span>proven: isolated, put back, repeated</span>
        </li>
      </ul>
    </section>
    <section>
      <template v-if="me?.fresh">
        <h2>Begin here</h2>
        <p class="fresh">
          Nobody has an account yet. Whoever started the program finds a link among the first lines that it printed:
          open it to make the first administrator, who invites everybody else.
        </p>
      </template>
      <h2>Sign in</h2>
      <ElForm novalidate label-position="top" @submit.prevent="enter(name, password)">
        <ElFormItem label="Name"><ElInput v-model="name" name="name" autocomplete="username" /></ElFormItem>
        <ElFormItem label="Password">
          <ElInput v-model="password" name="password" type="password" autocomplete="current-password" />
        </ElFormItem>
        <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!name || !password">Sign in</ElButton>
      </ElForm>
      <ProblemNote :problem="problem" />
      <template v-if="me?.demo.length">
        <h2 class="demo">Demo: one click</h2>
        <ul class="plain">
          <li v-for="d in me.demo" :key="d.name">
            <ElButton :disabled="busy" @click="enter(d.name, d.password)">{{ d.display }}</ElButton>
            <span class="quiet">{{ does[d.role] }}</span>
          </li>
        </ul>
      </template>
    </section>
  </div>
</template>

<style scoped>
.door {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 60px;
  max-width: 960px;
  margin: 0 auto;
  padding: 64px 24px;
}
h1 {
  font-size: 40px;
  margin-bottom: 14px;
}
.lead {
  font-size: 18px;
}
.eyes li,
li {
  display: flex;
  gap: 12px;
  align-items: center;
}
.demo {
  margin-top: 28px;
}
@media (max-width: 760px) {
  .door {
    grid-template-columns: 1fr;
    padding: 28px 16px;
    gap: 28px;
  }
  h1 {
    font-size: 30px;
  }
}
</style>
