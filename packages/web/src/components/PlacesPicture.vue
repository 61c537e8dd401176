<script setup lang="ts">
import type { HeaderText, PlacesView } from '@bright-ferry/core/views';
import { shallowRef, watch } from 'vue';
import { useAnalysis } from '../stores/analysis.ts';
import { useHistory } from '../stores/history.ts';
import AddressText from './AddressText.vue';

/** One try as several places saw it: the question to the right, the answer back, each with its header. */
const analysis = useAnalysis();
const history = useHistory();
const emit = defineEmits<{ found: [isFound: boolean] }>();
const view = shallowRef<PlacesView | null>(null);
watch(
  () => history.document,
  async () => {
    view.value = await analysis.ask('places', {});
    emit('found', view.value !== null);
  },
  { immediate: true },
);

function answerOf({ isReset, by, back }: PlacesView['places'][number]): string {
  if (isReset) return 'reset';
  return by === 'capture' ? `${back} packets` : 'seen';
}

const ends = (h: HeaderText) => [
  { key: 'from', text: h.from, turned: h.isFromTurned },
  { key: 'to', text: h.to, turned: h.isToTurned },
];
</script>

<template>
  <section v-if="view" class="places" aria-label="The try, place by place" data-test="places">
    <h2><AddressText :text="view.headline" /></h2>
    <ol :style="{ '--places': view.places.length }">
      <li v-for="p in view.places" :key="p.stop">
        <h3>
          {{ p.name }} <span class="quiet">{{ p.by === 'capture' ? 'capture' : 'session table' }}</span>
        </h3>
        <p class="lane question">
          <span v-for="e in ends(p.question)" :key="e.key" class="mono" :class="{ turned: e.turned }"
            >{{ e.key === 'to' ? '→ ' : '' }}<AddressText :text="e.text"
          /></span>
          <span class="quiet">{{ p.by === 'capture' ? `${p.there} packets` : 'tracked' }}</span>
        </p>
        <p v-if="p.answer" class="lane answer" :class="{ reset: p.isReset }">
          <span v-for="e in ends(p.answer)" :key="e.key" class="mono" :class="{ turned: e.turned }"
            >{{ e.key === 'to' ? '→ ' : '← ' }}<AddressText :text="e.text"
          /></span>
          <span class="quiet">{{ answerOf(p) }}</span>
        </p>
        <p v-else class="lane none">no answer here</p>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.places {
  margin: 4px 0 14px;
}

h2 {
  margin: 0 0 6px;
  font-size: 15px;
  font-weight: 600;
}

h3 {
  margin: 0 0 4px;
  font-size: 13px;
  font-weight: 600;
}

ol {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 0;
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  border-left: 6px solid var(--lit);
  padding: 0 16px 0 12px;
}

.lane {
  display: grid;
  justify-items: start;
  gap: 1px;
  margin: 0;
  padding: 4px 0;
}

.question {
  border-bottom: 2px solid var(--ink);
}

.answer {
  border-bottom: 2px dotted var(--lit);
}

.answer.reset {
  border-color: var(--shut);
}

.none {
  color: var(--shut);
  font-weight: 600;
}

.turned {
  color: var(--turned);
  background: var(--turned-soft);
  font-weight: 600;
}
</style>
