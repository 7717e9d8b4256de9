<script setup lang="ts">
import { BarChart } from 'echarts/charts'
import { AriaComponent, GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { init, use, type ECharts } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { useMutationObserver, useResizeObserver } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'

import type { Schemas } from '../../api/client'
import { figure } from '../../shared/format'
import DataTable from '../../shared/DataTable.vue'
import type { Column } from '../../shared/table'

use([BarChart, AriaComponent, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

/** Minutes of the whole repair by job, over the generations; the table below it says the same with its n. */
const props = defineProps<{ generations: Schemas['CompareGeneration'][] }>()
const place = ref<HTMLElement>()
let chart: ECharts | undefined

function draw() {
  if (!chart) return
  const style = getComputedStyle(document.documentElement)
  const colour = (name: string) => style.getPropertyValue(name).trim()
  const jobs = [...new Set(props.generations.flatMap((g) => g.jobs.map((j) => j.job)))]
  const tints = ['--pine', '--slate', '--amber-fill', '--brick', '--quiet'].map(colour)
  chart.setOption(
    {
      aria: { enabled: true },
      animation: false,
      color: tints,
      textStyle: { fontFamily: style.getPropertyValue('--text') || 'inherit', fontSize: 14, color: colour('--ink') },
      grid: { left: 44, right: 10, top: 34, bottom: 26 },
      legend: { top: 0, left: 0, textStyle: { color: colour('--ink'), fontSize: 14 }, itemWidth: 14 },
      tooltip: { trigger: 'item', renderMode: 'richText' },
      xAxis: {
        type: 'category',
        data: props.generations.map((g) => g.name),
        axisLine: { lineStyle: { color: colour('--ink') } },
        axisTick: { show: false },
        axisLabel: { color: colour('--ink'), fontSize: 14 },
      },
      yAxis: {
        type: 'value',
        axisLabel: { color: colour('--quiet') },
        splitLine: { lineStyle: { color: colour('--line') } },
      },
      series: jobs.map((job) => ({
        name: job,
        type: 'bar',
        barMaxWidth: 26,
        data: props.generations.map((g) => g.jobs.find((j) => j.job === job)?.closed ?? null),
        label: { show: false },
      })),
    },
    true,
  )
}
onMounted(() => {
  chart = init(place.value!, undefined, { renderer: 'svg' })
  draw()
})
onBeforeUnmount(() => chart?.dispose())
watch(() => props.generations, draw)
useResizeObserver(place, () => chart?.resize())
useMutationObserver(() => document.documentElement, draw, { attributes: true, attributeFilter: ['data-theme'] })
const cell = (g: Schemas['CompareGeneration'], job: string) => g.jobs.find((j) => j.job === job)
const rows = computed(() =>
  [...new Set(props.generations.flatMap((g) => g.jobs.map((j) => j.job)))].map((job) => ({ job })),
)
const columns = computed<Column<{ job: string }>[]>(() => [
  { id: 'job', title: 'To the part / whole repair, min', value: (r) => r.job },
  ...props.generations.map<Column<{ job: string }>>((g) => ({
    id: g.model_id,
    title: g.name,
    kind: 'number',
    value: (r) => cell(g, r.job)?.closed,
  })),
])
</script>

<template>
  <div>
    <div ref="place" class="chart" role="img" aria-label="Minutes of the whole repair by job, over the generations" />
    <DataTable
      name="generations"
      caption="Minutes over the generations"
      plain
      :rows="rows"
      :columns="columns"
      :row-key="(r) => r.job"
    >
      <template v-for="g in generations" :key="g.model_id" #[g.model_id]="{ row: r }">
        <template v-if="cell(g, r.job)">
          {{ figure(cell(g, r.job)!.minutes) }} / {{ figure(cell(g, r.job)!.closed) }}
          <small class="quiet">
            {{ cell(g, r.job)!.runs ? `n ${cell(g, r.job)!.runs} of ${cell(g, r.job)!.steps}` : 'estimate' }}
          </small>
        </template>
        <span v-else class="quiet">no way in</span>
      </template>
    </DataTable>
  </div>
</template>

<style scoped>
.chart {
  height: 240px;
  width: 100%;
}
</style>
