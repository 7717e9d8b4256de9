<script setup lang="ts">
import type { Schemas } from '../../api/client'
import CautionList from '../../shared/CautionList.vue'

/** What lies on the mat: figures that are doubted, what was lost, what to test again, screws and parts. */
defineProps<{
  state?: Schemas['StripUnitState']
  unit?: string
  cautions: Schemas['HazardCaution'][]
  notice: string
}>()
const secure = window.isSecureContext
</script>

<template>
  <section>
    <h2 id="mat">In the tray</h2>
    <p v-for="d in state?.doubts" :key="d.text" class="look">
      <b>{{ d.part }}:</b>
      {{ d.text }}
      <template v-if="d.fixes.length">
        Perhaps
        <span v-for="(x, i) in d.fixes" :key="i" class="fig">{{ i ? ', ' : '' }}{{ x.value }}</span>
      </template>
    </p>
    <p v-if="state?.lost.length" class="look">Lost and not found: {{ state.lost.join(', ') }}</p>
    <p v-if="state?.retest.length">
      To test again before closing:
      <b class="fig">{{ state.retest.length }}</b>
      checks
    </p>
    <p v-if="unit">
      <b class="fig">{{ state?.screws ?? 0 }}</b>
      screws,
      <b class="fig">{{ state?.out.length ?? 0 }}</b>
      parts of {{ unit }}
    </p>
    <CautionList :cautions="cautions" :notice="notice" />
    <p v-if="!secure" class="quiet">
      This address is plain http: keeping the program for a bench without a network, one sender among several tabs, and
      the camera need https or this very machine.
    </p>
  </section>
</template>
