<script setup lang="ts">
import type { CrossingView } from '@bright-ferry/core/views';
import AddressText from './AddressText.vue';
import LampMark from './LampMark.vue';
import WireLanes from './WireLanes.vue';

/**
 * One packet's way from left to right and its answer's way back. A stop is a pier across both lanes; the
 * wire to its right carries the header as it leaves that stop.
 */
defineProps<{ crossing: CrossingView; open?: string | null; still?: boolean }>();
const emit = defineEmits<{ open: [id: string] }>();
</script>

<template>
  <div
    class="crossing"
    :class="{ still }"
    :style="{ '--stops': crossing.stops.length }"
    role="group"
    aria-label="The crossing, from the client to the program"
  >
    <div
      v-for="(stop, i) in crossing.stops"
      :key="stop.id"
      class="column"
      :class="[
        stop.lamp,
        {
          beyond: stop.beyond,
          ends: stop.ends,
          open: open === stop.id,
          last: i === crossing.stops.length - 1,
        },
      ]"
    >
      <div class="signal">
        <LampMark :lamp="stop.lamp" :beyond="stop.beyond" />
        <span class="word">{{ stop.word }}</span>
      </div>
      <div class="pier" aria-hidden="true" />
      <WireLanes v-if="crossing.wires[i]" :wire="crossing.wires[i]" />
      <button
        v-if="!still"
        type="button"
        class="label"
        :aria-pressed="open === stop.id"
        @click="emit('open', stop.id)"
      >
        <strong>{{ stop.name }}</strong>
        <span class="unseen">: {{ stop.word }}. </span>
        <span class="caption"><AddressText :text="stop.caption" /></span>
      </button>
      <div v-else class="label">
        <strong>{{ stop.name }}</strong>
        <span class="caption"><AddressText :text="stop.caption" /></span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.crossing {
  display: grid;
  grid-template-columns: repeat(calc(var(--stops) - 1), minmax(150px, 1fr)) minmax(118px, 0.7fr);
  grid-template-rows: 26px minmax(58px, auto) minmax(42px, auto) auto;
  flex: none;
  overflow-x: auto;
  padding: 4px 20px 8px;
}

.column {
  position: relative;
  display: grid;
  grid-row: 1 / -1;
  grid-template-rows: subgrid;
  grid-template-columns: 14px 1fr;
  padding: 4px 0 4px 6px;
  border-radius: 4px;
}

.column.ends {
  background: var(--now);
}

.signal {
  grid-column: 1 / -1;
  display: flex;
  align-items: center;
  gap: 6px;
  margin-left: -4px;
}

.word {
  font-size: 13px;
  white-space: nowrap;
}

.lit .word {
  color: var(--lit);
}

.shut .word {
  color: var(--shut);
  font-weight: 600;
}

.fogged .word {
  color: var(--fog);
}

.aside .word {
  color: var(--ink-soft);
}

.pier {
  grid-row: 2 / 4;
  grid-column: 1;
  width: 8px;
  border-radius: 2px;
  margin: 2px 0 2px 3px;
  background: var(--lit);
}

.shut .pier {
  background: var(--shut);
}

.ends .pier {
  width: 12px;
  margin-left: 1px;
}

.fogged .pier {
  background: repeating-linear-gradient(45deg, var(--fog) 0 2px, var(--fog-soft) 2px 5px);
}

.aside .pier {
  width: 2px;
  margin-left: 6px;
  background: var(--line);
}

.beyond:not(.ends) .pier {
  opacity: 0.45;
}

.label {
  grid-column: 1 / -1;
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  justify-content: flex-start;
  text-align: left;
  background: none;
  border: 0;
  border-bottom: 3px solid transparent;
  padding: 4px 8px 4px 0;
  margin-top: 2px;
  font: inherit;
  color: inherit;
  overflow: hidden;
}

button.label {
  cursor: pointer;
}

.open .label {
  border-bottom-color: var(--ferry);
}

.caption {
  color: var(--ink-soft);
  font-size: 12.5px;
  line-height: 1.3;
  overflow-wrap: anywhere;
}

.shut .caption {
  color: var(--shut);
}
</style>
