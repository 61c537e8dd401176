<script setup lang="ts">
import type { TrafficView } from '@bright-ferry/core/views';
import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js';
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue';

/** When packets came, by what became of them. A stretch of time is chosen by pulling over the bars. */
const props = defineProps<{ timeline: NonNullable<TrafficView['timeline']> }>();
const span = defineModel<readonly [number, number] | null>({ required: true });

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

const canvas = useTemplateRef('canvas');
let chart: Chart | null = null;
let pulledFrom: number | null = null;

const NAMES = ['kept out', 'let in', 'not said'];
const COLOURS = ['--shut', '--lit', '--fog'];
/** Bars that are drawn at most. */
const MOST_BARS = 160;

const clock = (seconds: number): string =>
  new Date(seconds * 1000).toISOString().slice(5, 19).replace('T', ' ');

/** Bins side by side as one, so that bars stay wide enough to be seen. */
function bars(): { starts: number[]; width: number; counts: number[][] } {
  const { from, width, counts } = props.timeline;
  const length = counts[0]?.length ?? 0;
  const step = Math.ceil(length / MOST_BARS);
  const size = Math.ceil(length / step);
  return {
    starts: Array.from({ length: size }, (_, i) => from + i * step * width),
    width: step * width,
    counts: counts.map((row) =>
      Array.from({ length: size }, (_, i) => row.slice(i * step, (i + 1) * step).reduce((a, b) => a + b, 0)),
    ),
  };
}

function draw(): void {
  if (!canvas.value) return;
  const style = getComputedStyle(canvas.value);
  const { starts, counts } = bars();
  const ink = style.getPropertyValue('--ink-soft').trim();
  const data = {
    labels: starts.map(clock),
    datasets: counts.map((row, i) => ({
      label: NAMES[i] ?? '',
      data: row,
      backgroundColor: style.getPropertyValue(COLOURS[i] ?? '--fog').trim(),
      barPercentage: 1,
      categoryPercentage: 0.94,
    })),
  };
  if (chart) {
    chart.data = data;
    chart.update('none');
    return;
  }
  chart = new Chart(canvas.value, {
    type: 'bar',
    data,
    options: {
      animation: false,
      maintainAspectRatio: false,
      interaction: { mode: 'index', intersect: false },
      scales: {
        x: {
          stacked: true,
          ticks: { maxTicksLimit: 8, maxRotation: 0, color: ink },
          grid: { display: false },
        },
        y: { stacked: true, beginAtZero: true, ticks: { precision: 0, maxTicksLimit: 4, color: ink } },
      },
    },
  });
}

/** The bar below a place of the picture. */
function barAt(event: PointerEvent): number {
  const { starts } = bars();
  const scale = chart?.scales['x'];
  const at = scale?.getValueForPixel(event.offsetX) ?? 0;
  return Math.min(Math.max(at, 0), starts.length - 1);
}

function pull(event: PointerEvent): void {
  pulledFrom = barAt(event);
}

function release(event: PointerEvent): void {
  if (pulledFrom === null) return;
  const { starts, width } = bars();
  const [a, b] = [pulledFrom, barAt(event)].sort((x, y) => x - y);
  pulledFrom = null;
  const [first, last] = [starts[a ?? 0], starts[b ?? 0]];
  if (first !== undefined && last !== undefined) span.value = [first, last + width];
}

onMounted(draw);
watch(() => props.timeline, draw);
onBeforeUnmount(() => chart?.destroy());
</script>

<template>
  <div class="timeline">
    <canvas
      ref="canvas"
      role="img"
      aria-label="When packets came: kept out, let in, and those of which the record does not say it"
      @pointerdown="pull"
      @pointerup="release"
    />
  </div>
  <ul class="legend quiet">
    <li v-for="(name, i) in NAMES" :key="name">
      <span class="dot" :style="{ background: `var(${COLOURS[i]})` }" aria-hidden="true" />{{ name }}
    </li>
    <li>Pull over the bars to choose a stretch of time.</li>
  </ul>
</template>

<style scoped>
.timeline {
  height: 150px;
  touch-action: none;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 2px 0 10px;
  padding: 0;
  list-style: none;
  font-size: 12px;
}

.dot {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 5px;
}
</style>
