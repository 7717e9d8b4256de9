<script setup lang="ts">
/**
 * A range on a ruled scale: a rule with a mark at each whole point, the range as a band above it, and inside the band what
 * is left if everything that is only uncertain is as it most likely is. Its words stand beside it.
 */
const props = defineProps<{
  range: readonly number[]
  sure?: readonly number[]
  scale: readonly number[]
  wide?: number
}>()
const width = () => props.wide ?? 132
const at = (v: number) => {
  const [low, high] = [props.scale[0]!, props.scale[1]!]
  return 2 + ((v - low) / (high - low)) * (width() - 4)
}
const span = (r: readonly number[]) => Math.max(2, at(r[1]!) - at(r[0]!))
const marks = () => {
  const [low, high] = [props.scale[0]!, props.scale[1]!]
  return Array.from({ length: Math.round(high - low) + 1 }, (_, i) => low + i)
}
</script>

<template>
  <svg :viewBox="`0 0 ${width()} 22`" :width="width()" height="22" aria-hidden="true" class="ruler">
    <path class="rule" :d="`M2 18h${width() - 4}`" />
    <path
      v-for="m in marks()"
      :key="m"
      class="rule"
      :d="`M${at(m)} 18v${(m - scale[0]!) % 5 === 0 || m === scale[1] ? -5 : -2.5}`"
    />
    <rect class="range" :x="at(range[0]!)" y="3" :width="span(range)" height="9" />
    <rect v-if="sure" class="sure" :x="at(sure[0]!)" y="5.5" :width="span(sure)" height="4" />
  </svg>
</template>

<style scoped>
.ruler {
  display: block;
  max-width: 100%;
}
.rule {
  fill: none;
  stroke: var(--strong-line);
}
.range {
  fill: var(--pine-wash);
  stroke: var(--pine);
}
.sure {
  fill: var(--pine);
}
</style>
