<script setup lang="ts">
import { BarChart } from 'echarts/charts'
import { AriaComponent, GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { init, use, type ECharts } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { useMutationObserver, useResizeObserver } from '@vueuse/core'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

import type { Schemas } from '../../api/client'
import { figure } from '../../shared/format'

use([BarChart, AriaComponent, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

/** Minutes to closed and tested by job, over the generations; the table below it says the same with its n. */
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
const jobs = () => [...new Set(props.generations.flatMap((g) => g.jobs.map((j) => j.job)))]
</script>

<template>
  <div>
    <div ref="place" class="chart" role="img" aria-label="Minutes to closed and tested by job, over the generations" />
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>min in / to closed</th>
            <th v-for="g in generations" :key="g.model_id" class="num">{{ g.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="job in jobs()" :key="job">
            <td>{{ job }}</td>
            <td v-for="g in generations" :key="g.model_id" class="num">
              <template v-if="cell(g, job)">
                {{ figure(cell(g, job)!.minutes) }} / {{ figure(cell(g, job)!.closed) }}
                <small class="quiet">
                  {{ cell(g, job)!.runs ? `n ${cell(g, job)!.runs} of ${cell(g, job)!.steps}` : 'predicted' }}
                </small>
              </template>
              <span v-else class="quiet">no way</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.chart {
  height: 240px;
  width: 100%;
}
</style>
