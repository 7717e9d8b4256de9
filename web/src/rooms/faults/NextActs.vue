<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import CautionList from '../../shared/CautionList.vue'
import { minutes } from '../../shared/format'
import WallClock from '../../shared/WallClock.vue'

/** One act at a time: why, what either answer would mean, and the answer by one key. The others wait below. */
const props = defineProps<{ room: Schemas['FaultsRoom']; writes: boolean; busy: boolean; chosen: number }>()
const emit = defineEmits<{ answer: [act: string, said: 'yes' | 'no' | 'at times']; choose: [i: number] }>()
const now = computed(() => props.room.next[props.chosen] ?? props.room.next[0])
const safety = computed(() => now.value?.asks === 'Done?')
</script>

<template>
  <section id="next">
    <h2>Do next</h2>
    <p v-if="!room.next.length && room.state === 'open'" class="quiet">Nothing is left to do; say below how it ends.</p>
    <ol class="plain">
      <li v-for="(a, i) in room.next" :key="a.act" class="act" :class="{ here: a === now }">
        <button
          type="button"
          class="bare number"
          :aria-label="`Do ${a.act} instead`"
          :aria-pressed="a === now"
          @click="emit('choose', i)"
        >
          {{ i + 1 }}
        </button>
        <div>
          <div class="head">
            <b>{{ a.words }}</b>
            <span class="fig">{{ minutes(Math.ceil(a.minutes)) }}</span>
          </div>
          <p v-if="a.price || a.shelf" class="quiet money">
            {{ a.price }}{{ a.shelf ? `${a.price ? ', ' : ''}lies at ${a.shelf}` : '' }}
          </p>
          <template v-if="a === now">
            <p v-if="a.yes" class="means">
              <b>Yes:</b>
              {{ a.yes }}.
              <b>No:</b>
              {{ a.no }}.
            </p>
            <CautionList :cautions="a.cautions" />
            <p v-if="a.wait">
              <WallClock :id="`${room.id}:${a.act}:${room.acts.length}`" :minutes="a.wait" :label="a.words" />
              <span class="quiet">&nbsp;nobody need stand by</span>
            </p>
          </template>
        </div>
      </li>
    </ol>
    <template v-if="now && writes && room.state === 'open'">
      <h3>{{ room.next.length > 1 ? `After step ${room.next.indexOf(now) + 1}: ` : '' }}{{ now.asks }}</h3>
      <div class="answers">
        <ElButton :disabled="busy" @click="emit('answer', now.act, 'yes')">
          {{ safety ? 'done' : 'yes' }}
          <span class="keys">y</span>
        </ElButton>
        <ElButton v-if="!safety" :disabled="busy" @click="emit('answer', now.act, 'no')">
          no
          <span class="keys">n</span>
        </ElButton>
        <ElButton v-if="!safety && now.kind !== 'look'" :disabled="busy" @click="emit('answer', now.act, 'at times')">
          at times
          <span class="keys">t</span>
        </ElButton>
      </div>
    </template>
  </section>
</template>

<style scoped>
.act {
  display: grid;
  grid-template-columns: 44px minmax(0, 1fr);
  gap: 14px;
  padding: 10px 0;
  border-bottom: 1px solid var(--line);
}
.number {
  display: grid;
  place-items: center;
  width: 44px;
  height: 44px;
  border: 1px solid var(--strong-line);
  color: var(--quiet);
  font-size: 20px;
}
.here .number,
.here .number:hover {
  background: var(--pine);
  border-color: var(--pine);
  color: var(--sheet);
  font-weight: 600;
}
.head {
  display: flex;
  gap: 12px;
  justify-content: space-between;
}
.here .head {
  font-size: 19px;
}
.money,
.means {
  margin: 2px 0;
}
.answers {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(110px, 1fr));
  gap: 10px;
}
.answers :deep(.el-button) {
  height: 60px;
  margin: 0;
  font-size: 18px;
}
</style>
