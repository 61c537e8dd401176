<script setup lang="ts">
import type { Shrinking } from '@bright-ferry/core/views';
import { BarController, BarElement, CategoryScale, Chart, LinearScale } from 'chart.js';
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue';

/** How many kinds of fault were possible after each answer, one bar under the other. */
const props = defineProps<{ steps: Shrinking }>();

Chart.register(BarController, BarElement, CategoryScale, LinearScale);

const canvas = useTemplateRef('canvas');
let chart: Chart | null = null;

function draw(): void {
  if (!canvas.value) return;
  const style = getComputedStyle(canvas.value);
  const ink = style.getPropertyValue('--ink-soft').trim();
  const font = { family: style.getPropertyValue('--sans').trim(), size: 13 };
  const last = props.steps.length - 1;
  const colour = (i: number): string => style.getPropertyValue(i === last ? '--ferry' : '--fog').trim();
  const data = {
    labels: props.steps.map((s) => `${s.after}  ${s.kinds}`),
    datasets: [
      {
        data: props.steps.map((s) => s.kinds),
        backgroundColor: props.steps.map((_, i) => colour(i)),
        barPercentage: 0.8,
        categoryPercentage: 0.9,
      },
    ],
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
      indexAxis: 'y',
      animation: false,
      maintainAspectRatio: false,
      scales: {
        x: { beginAtZero: true, ticks: { precision: 0, maxTicksLimit: 5, color: ink, font } },
        y: { ticks: { autoSkip: false, color: ink, font }, grid: { display: false } },
      },
    },
  });
}

onMounted(draw);
watch(() => props.steps, draw);
onBeforeUnmount(() => chart?.destroy());
</script>

<template>
  <div class="picture" :style="{ height: `${steps.length * 22 + 30}px` }" data-test="shrinking">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="steps.map((s) => `${s.after}: ${s.kinds}`).join('; ')"
    ></canvas>
  </div>
</template>

<style scoped>
.picture {
  position: relative;
}
</style>
