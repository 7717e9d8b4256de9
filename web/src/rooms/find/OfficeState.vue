<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { count } from '../../shared/format'
import { moment, numbers } from '../../shared/locale'

/** What an administrator looks after: people, the last backup, room on the disk, what could not be finished today. */
defineProps<{ office: Schemas['FirstOffice'] }>()
const gb = (n: number) => numbers({ maximumFractionDigits: 1 }).format(n)
</script>

<template>
  <section id="office" tabindex="-1">
    <h2>The workshop’s program</h2>
    <dl>
      <dt>People</dt>
      <dd>
        {{ office.people.map((p) => count(p.active, p.role)).join(', ') }}
        <RouterLink to="/accounts">Accounts</RouterLink>
        <RouterLink to="/accounts?new=1">Invite somebody</RouterLink>
      </dd>
      <dt>Last backup</dt>
      <dd :class="{ look: !office.backup }">
        {{ office.backup ? moment(office.backup) : 'none' }}
        <span class="quiet">{{ office.kept }}</span>
      </dd>
      <dt>Disk</dt>
      <dd>{{ office.free_gb < 0 ? 'not known from here' : `${gb(office.free_gb)} GB free` }}</dd>
      <dt>Today</dt>
      <dd>
        {{ office.failures ? `${count(office.failures, 'request')} could not be finished` : 'nothing went wrong' }}
      </dd>
    </dl>
    <p>
      <RouterLink to="/trail">Who did what</RouterLink>
      <RouterLink to="/parts?face=workshop">The workshop’s settings</RouterLink>
    </p>
  </section>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 8px 14px;
  margin: 0 0 12px;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
}
a {
  margin-right: 16px;
}
</style>
