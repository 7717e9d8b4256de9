<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { clock } from '../../shared/format'
import StickerTag from '../../shared/StickerTag.vue'
import type { Taken } from './taken'

/** One stretch of the recording: what was said on the left, what would be logged on the right. */
const props = defineProps<{
  cue: Schemas['StripHeard']['cues'][number]
  offers: { n: number; offer: Schemas['StripOffer'] }[]
  unread: Schemas['NarrateSpan'][]
  units: Schemas['Unit'][]
  taken: Map<string, Taken>
  chosen: string
  editing: string
  timed: boolean
  refused: Map<string, string>
}>()
const emit = defineEmits<{
  choose: [id: string]
  yes: [id: string]
  no: [id: string]
  edit: [id: string]
  flip: [id: string]
  which: [id: string, i: number]
  play: []
  sync: [id: string]
}>()
/** The text cut where a proposal or an unread stretch begins or ends. */
const pieces = computed(() => {
  const text = Array.from(props.cue.text)
  const cuts = new Set([0, text.length])
  const spans = props.offers.map(({ n, offer }) => ({
    n,
    from: offer.from,
    to: offer.to_cue ? text.length : offer.to,
    doubt: offer.doubts.length > 0,
  }))
  for (const s of [...spans, ...props.unread]) cuts.add(s.from).add(Math.min(s.to, text.length))
  const at = [...cuts].sort((a, b) => a - b)
  return at.slice(0, -1).map((from, i) => {
    const to = at[i + 1]!
    const over = spans.filter((s) => s.from <= from && s.to >= to)
    return {
      text: text.slice(from, to).join(''),
      used: over.length > 0,
      doubt: over.some((s) => s.doubt),
      unread: props.unread.some((s) => s.from <= from && s.to >= to),
      ends: over.filter((s) => s.to === to || !spans.some((o) => o.n === s.n && o.to > to)).map((s) => s.n),
    }
  })
})
const unitOf = (id: string) => props.units.find((u) => u.id === id)
const sure = (c: number) => (c >= 0.9 ? 'sure' : c >= 0.75 ? 'likely' : 'perhaps')
const why = (o: Schemas['StripOffer']) =>
  [
    o.logged,
    o.withdrawn_by && 'taken back in the next words',
    o.did !== 'done' && !o.withdrawn_by ? (o.acted ? '' : o.did) : '',
    ...o.doubts.map((d) => d.text),
    o.trial ? 'goes to the swap tests, with the checks said after it' : '',
    o.new ? 'a part that is not on record: it is added' : '',
    !o.enter && o.acted && !o.which.length && !o.trial && !o.new && !props.taken.get(o.id)?.mended
      ? /^(step|put_back|incident|heat)$/.test(o.kind)
        ? 'not clear which: edit it, or it is kept as a note'
        : 'kept as a note'
      : '',
  ]
    .filter(Boolean)
    .join(' · ')
</script>

<template>
  <div class="said">
    <div class="text">
      <button v-if="timed" type="button" class="bare fig quiet tm" @click="emit('play')">{{ clock(cue.start) }}</button>
      <p :class="{ quiet: !offers.length }">
        <template v-for="(p, i) in pieces" :key="i">
          <u v-if="p.used" :class="{ doubt: p.doubt }">{{ p.text }}</u>
          <span v-else :class="{ unread: p.unread }" :title="p.unread ? 'a bench word that no proposal rests on' : ''">
            {{ p.text }}
          </span>
          <sup v-if="p.ends.length" class="fig">{{ p.ends.join(' ') }}</sup>
        </template>
      </p>
    </div>
    <ol v-if="offers.length" class="plain">
      <li
        v-for="{ n, offer } in offers"
        :key="offer.id"
        :data-offer="offer.id"
        :class="{
          aside: !offer.acted,
          now: chosen === offer.id,
          off: taken.get(offer.id)?.state === 'no' || offer.withdrawn_by,
        }"
        @click="emit('choose', offer.id)"
      >
        <span class="fig quiet">{{ n }}</span>
        <span>
          <ElInput
            v-if="editing === offer.id"
            v-model="taken.get(offer.id)!.line"
            size="small"
            :aria-label="`Line of ${n}`"
            maxlength="400"
            autofocus
            @keydown.enter.prevent.stop="emit('yes', offer.id)"
          />
          <b v-else>{{ taken.get(offer.id)!.mended ? taken.get(offer.id)!.line : offer.say }}</b>
          <small>{{ why(offer) }}</small>
          <button
            v-if="offer.logged_at && timed && chosen === offer.id"
            type="button"
            class="bare link"
            @click.stop="emit('sync', offer.id)"
          >
            lay the recording's clock over this entry
          </button>
          <span v-if="offer.which.length && !taken.get(offer.id)!.mended" class="which">
            which?
            <button
              v-for="(w, i) in offer.which"
              :key="w.name"
              type="button"
              class="bare link"
              @click.stop="emit('which', offer.id, i)"
            >
              {{ w.name }}
              <span v-if="chosen === offer.id" class="keys">{{ i + 1 }}</span>
            </button>
          </span>
          <small v-if="refused.get(offer.id)" class="look" role="alert">{{ refused.get(offer.id) }}</small>
        </span>
        <button
          v-if="units.length > 1"
          type="button"
          class="bare"
          title="another phone"
          @click.stop="emit('flip', offer.id)"
        >
          <StickerTag :unit="unitOf(taken.get(offer.id)!.unit) ?? units[0]!" />
        </button>
        <span class="quiet sure">{{ sure(offer.confidence) }}</span>
        <span class="acts">
          <b v-if="taken.get(offer.id)!.state === 'yes'" class="ok">accepted</b>
          <b v-else-if="taken.get(offer.id)!.state === 'no'" class="quiet">no</b>
          <template v-if="chosen === offer.id">
            <ElButton v-if="taken.get(offer.id)!.state !== 'yes'" size="small" @click.stop="emit('yes', offer.id)">
              yes
              <span class="keys">Enter</span>
            </ElButton>
            <ElButton size="small" @click.stop="emit('edit', offer.id)">
              edit
              <span class="keys">e</span>
            </ElButton>
            <ElButton v-if="taken.get(offer.id)!.state !== 'no'" size="small" @click.stop="emit('no', offer.id)">
              no
              <span class="keys">x</span>
            </ElButton>
          </template>
        </span>
      </li>
    </ol>
  </div>
</template>

<style scoped>
.said {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 20px;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
.text {
  display: grid;
  grid-template-columns: 52px minmax(0, 1fr);
}
.text p {
  margin: 0;
}
.tm {
  text-align: left;
  align-self: start;
}
u {
  text-decoration-color: var(--green);
  text-decoration-thickness: 2px;
  text-underline-offset: 4px;
}
u.doubt {
  text-decoration-color: var(--amber-fill);
}
.unread {
  background: var(--amber-wash);
}
ol {
  margin: 0;
}
li {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr) auto 60px auto;
  gap: 10px;
  align-items: center;
  min-height: 36px;
  padding: 2px 6px;
}
li.now {
  box-shadow: inset 0 0 0 2px var(--ink);
}
li.off b {
  font-weight: 400;
  text-decoration: line-through;
}
li.off .acts b {
  text-decoration: none;
}
li small {
  display: block;
}
li.now .acts {
  grid-column: 2 / -1;
}
li.aside b {
  font-weight: 400;
  color: var(--quiet);
}
.which {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
.acts {
  display: flex;
  gap: 6px;
  align-items: center;
}
@media (max-width: 1000px) {
  .said {
    grid-template-columns: minmax(0, 1fr);
    gap: 4px;
  }
  li {
    grid-template-columns: 26px minmax(0, 1fr) auto;
    min-height: 48px;
  }
  .sure {
    display: none;
  }
  .acts {
    grid-column: 2 / -1;
  }
  .acts :deep(.el-button) {
    min-height: 44px;
  }
}
</style>
