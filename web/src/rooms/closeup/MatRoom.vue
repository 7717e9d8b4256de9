<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'

import { api } from '../../api/client'
import DriveMark from '../../shared/DriveMark.vue'
import { useRoom } from '../../shared/useRoom'

/** The screw sheet at true scale: a cell per group of screws in removal order, drawn at their real length, and a bar to check. */
const id = String(useRoute().params.id)
const { room, error } = useRoom(['closeup', id, false], () =>
  api.GET('/api/studies/{id}/closeup', { params: { path: { id }, query: { plan: false } } }),
)
const paper = ref<'a4' | 'letter'>('a4')
const rows = computed(() => (paper.value === 'a4' ? 7 : 6))
const pages = computed(() => {
  const mat = room.value?.mat
  const list: number[][] = []
  const per = (mat?.columns ?? 5) * rows.value
  for (let i = 0; i < (mat?.cells.length ?? 0); i += per) list.push(mat!.cells.slice(i, i + per))
  return list
})
const print = () => window.print()
</script>

<template>
  <div class="sheet" :class="paper">
    <p v-if="error" role="alert" class="danger">{{ error.message }}</p>
    <template v-if="room">
      <div class="row no-print">
        <h1 class="answer">
          Screw sheet of the {{ room.model.name }}: {{ room.holes.length }} kinds of screws,
          {{ room.mat.spacers }} spacers{{ room.mat.fewest ? ', no fewer would do' : '' }}.
        </h1>
        <ElSelect v-model="paper" :teleported="false" aria-label="Paper" style="width: 120px">
          <ElOption value="a4" label="A4" />
          <ElOption value="letter" label="Letter" />
        </ElSelect>
        <ElButton type="primary" @click="print">Print at 100 %</ElButton>
      </div>
      <p v-if="!room.holes.length" class="quiet">
        No screws on record yet: log the teardown with their drive, diameter and length.
      </p>
      <section v-for="(cells, p) in pages" :key="p" class="page" :aria-label="`Sheet ${p + 1} of ${pages.length}`">
        <header>
          <b>{{ room.model.maker }} {{ room.model.name }}: screw sheet</b>
          <span>{{ room.study.title }}, sheet {{ p + 1 }} of {{ pages.length }}</span>
        </header>
        <div class="cells">
          <div v-for="(c, i) in cells" :key="i" class="cell" :class="{ spacer: c < 0 }">
            <template v-if="c >= 0">
              <b>{{ room.holes[c]!.order }}</b>
              <DriveMark :drive="room.holes[c]!.drive as never" :length="room.holes[c]!.length_mm" />
              <span class="name">{{ room.holes[c]!.count }} × {{ room.holes[c]!.name }}</span>
              <svg
                :style="{ width: `${room.holes[c]!.length_mm + 4}mm`, height: '5mm' }"
                :viewBox="`0 0 ${room.holes[c]!.length_mm + 4} 5`"
                aria-hidden="true"
              >
                <rect
                  x="0.2"
                  :y="2.5 - room.holes[c]!.diameter_mm"
                  width="1"
                  :height="2 * room.holes[c]!.diameter_mm"
                />
                <rect
                  x="1.2"
                  :y="2.5 - room.holes[c]!.diameter_mm / 2"
                  :width="room.holes[c]!.length_mm"
                  :height="room.holes[c]!.diameter_mm"
                />
              </svg>
              <span class="fig">{{ room.holes[c]!.diameter_mm }} × {{ room.holes[c]!.length_mm }} mm</span>
              <span v-if="room.holes[c]!.magnetic === 'no'" class="fig">not magnetic</span>
            </template>
            <span v-else class="name">keep empty</span>
          </div>
        </div>
        <footer>
          <svg class="bar" viewBox="0 0 50 4" aria-label="Control bar of 50 mm">
            <path d="M0.1 0v4M0 2h50M10 1v2M20 1v2M30 1v2M40 1v2M49.9 0v4" />
          </svg>
          <span>This bar is 50 mm long. If it is not, print again at 100 %.</span>
          <span>Look-alikes that could pierce are never neighbours. Better no screw than a longer one.</span>
          <span>{{ room.notice }}</span>
        </footer>
      </section>
    </template>
  </div>
</template>

<style scoped>
.sheet {
  padding: 16px 24px;
}
h1 {
  font-size: 20px;
  flex: 1;
  border: 0;
}
.page {
  width: 210mm;
  min-height: 290mm;
  padding: 12mm 15mm;
  background: #fff;
  color: #111;
  border: 1px solid var(--line);
  margin: 12px 0;
  display: flex;
  flex-direction: column;
}
.letter .page {
  width: 215.9mm;
  min-height: 272mm;
}
.page header {
  display: flex;
  justify-content: space-between;
  gap: 10mm;
  margin-bottom: 4mm;
}
.cells {
  display: grid;
  grid-template-columns: repeat(5, 34mm);
  grid-auto-rows: 34mm;
  gap: 1mm;
}
.cell {
  border: 0.3mm solid #111;
  padding: 1.5mm;
  font-size: 10pt;
  line-height: 1.15;
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 0.6mm;
  overflow: hidden;
}
.cell.spacer {
  border-style: dashed;
  color: #666;
  align-items: center;
  justify-content: center;
}
.cell .fig {
  font-size: 9pt;
}
.cell svg {
  flex: none;
}
.cell rect {
  fill: #111;
}
footer {
  margin-top: auto;
  padding-top: 4mm;
  font-size: 9pt;
  display: grid;
  gap: 1mm;
}
.bar {
  width: 50mm;
  height: 4mm;
}
.bar path {
  stroke: #111;
  stroke-width: 0.25;
  fill: none;
}
@media print {
  .sheet {
    padding: 0;
  }
  .page {
    border: 0;
    margin: 0;
    break-after: page;
  }
}
@media (max-width: 1100px) {
  .sheet {
    overflow-x: auto;
  }
}
</style>
