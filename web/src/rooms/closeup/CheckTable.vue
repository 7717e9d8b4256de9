<script setup lang="ts">
import { ElButton } from 'element-plus'

import type { Schemas } from '../../api/client'
import ResultCell from '../../shared/ResultCell.vue'

/** The checks before sealing, beside what the phone showed before it was opened. */
defineProps<{ checks: Schemas['CloseupClosingCheck'][]; unit: string; writes: boolean }>()
const emit = defineEmits<{ result: [mark: string, result: string]; rest: [] }>()
const move = (check: number, by: number) =>
  document.querySelector<HTMLElement>(`[data-check="${check + by}"] button`)?.focus()
</script>

<template>
  <section id="checks">
    <h2>Checks before sealing</h2>
    <ElButton v-if="writes && checks.some((c) => !c.result)" size="small" @click="emit('rest')">
      I ran {{ checks.some((c) => c.result) ? 'the other' : 'all' }} {{ checks.filter((c) => !c.result).length }}: pass
    </ElButton>
    <div class="scroll" tabindex="0" role="region" aria-label="Checks before sealing">
      <table>
        <thead>
          <tr>
            <th>Check</th>
            <th>Before opening</th>
            <th>Now</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(c, i) in checks" :key="c.mark">
            <td>
              {{ c.name }}
              <span v-if="c.retest" class="look">test again</span>
            </td>
            <td class="quiet">{{ c.baseline ? c.baseline + (c.assumed ? ' (assumed)' : '') : 'untested' }}</td>
            <td :data-check="i">
              <ResultCell
                :result="(c.result || undefined) as never"
                :label="`${unit}, ${c.name}`"
                :disabled="!writes"
                @set="(r) => emit('result', c.mark, r)"
                @move="(by) => move(i, by)"
              />
              <span
                v-if="c.result && c.baseline === 'pass' && c.result !== 'pass' && c.result !== 'skipped'"
                class="danger"
              >
                lost since
              </span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
