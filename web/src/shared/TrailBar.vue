<script setup lang="ts">
import type { Schemas } from '../api/client'
import EvidenceEye from './EvidenceEye.vue'

/** The stages of a study in working order; an eye opens as its stage fills. */
const props = defineProps<{ card: Schemas['StudyCard'] }>()
function to(stage: string) {
  const id = props.card.study.id
  const study = { study: id }
  if (stage === 'ways' || stage === 'score') return { name: stage, params: { id: props.card.model.id }, query: study }
  return { name: stage, params: { id } }
}
</script>

<template>
  <nav class="trail no-print" aria-label="Stages of this study">
    <p class="what">
      <b>{{ card.model.name }}</b>
      <span>{{ card.study.title }}</span>
    </p>
    <ol class="plain">
      <li v-for="s in card.stages" :key="s.id">
        <RouterLink :to="to(s.id)" active-class="here">
          <EvidenceEye :state="s.eye" :label="s.eye === 'open' ? 'complete' : s.eye === 'half' ? 'begun' : 'empty'" />
          <span>
            {{ s.title }}
            <small v-if="s.missing">missing: {{ s.missing }}</small>
          </span>
        </RouterLink>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
.trail {
  width: 208px;
  flex: none;
  position: sticky;
  top: 48px;
  align-self: flex-start;
  height: calc(100vh - 48px);
  overflow-y: auto;
  border-right: 1px solid var(--line);
  padding: 16px 0;
}
.what {
  padding: 0 14px 10px 20px;
  display: flex;
  flex-direction: column;
  overflow-wrap: anywhere;
}
.what span {
  font-size: 14px;
  color: var(--quiet);
}
li {
  padding: 0 !important;
}
a {
  display: flex;
  gap: 10px;
  padding: 10px 10px 10px 16px;
  color: var(--ink);
  text-decoration: none;
  border-left: 4px solid transparent;
}
a.here {
  border-left-color: var(--pine);
  background: var(--wash);
  font-weight: 600;
}
small {
  display: block;
  font-size: 13px;
  font-weight: 400;
  color: var(--quiet);
  line-height: 1.25;
}
/* Bench view folds it to a strip of eyes. */
@media (min-width: 1024px) {
  [data-bench] .trail {
    width: 56px;
  }
  [data-bench] .what,
  [data-bench] a > span:last-child {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
    white-space: nowrap;
  }
  [data-bench] a {
    padding: 14px 0 14px 10px;
  }
}
@media (max-width: 1023px) {
  .trail {
    position: static;
    height: auto;
    width: auto;
    align-self: stretch;
    border-right: 0;
    border-bottom: 1px solid var(--line);
    padding: 8px 10px;
    overflow-x: auto;
  }
  .what {
    display: none;
  }
  ol {
    display: flex;
  }
  li {
    border: 0 !important;
  }
  a {
    padding: 6px 10px;
    border-left: 0;
    border-bottom: 3px solid transparent;
    white-space: nowrap;
    align-items: center;
  }
  a.here {
    border-bottom-color: var(--pine);
  }
  small {
    display: none;
  }
}
</style>
