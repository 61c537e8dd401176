<script setup lang="ts">
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { ElProgress } from 'element-plus/es/components/progress/index.mjs';
import 'element-plus/es/components/progress/style/css';
import { computed, onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import AddressText from '../components/AddressText.vue';
import TopBar from '../components/TopBar.vue';
import PlacesPicture from '../components/PlacesPicture.vue';
import WatchLine from '../components/WatchLine.vue';
import TrafficRows from '../components/TrafficRows.vue';
import TrafficTimeline from '../components/TrafficTimeline.vue';
import { useHistory } from '../stores/history.ts';
import { useIntake } from '../stores/intake.ts';
import { useTraffic, type TrafficSource } from '../stores/traffic.ts';

/** What became of the client's try, by the logs and captures of a case, of any size. */
const route = useRoute();
const router = useRouter();
const history = useHistory();
const traffic = useTraffic();
const intake = useIntake();
const missing = ref(false);
/** Whether several places saw one try. */
const hasPlaces = ref(false);
const span = ref<readonly [number, number] | null>(null);
const chooser = useTemplateRef('chooser');
const id = computed(() => String(route.params['id']));
const view = computed(() => traffic.current?.view ?? null);
const size = computed(() => traffic.current?.blob.size ?? 0);
const percent = computed(() => Math.round((100 * (traffic.current?.done ?? 0)) / Math.max(1, size.value)));
const STATES: Readonly<Record<TrafficSource['state'], string>> = {
  waits: 'waits',
  reads: 'is being read',
  read: '',
  stopped: 'stopped',
  unknown: 'no log, no capture',
  failed: 'failed',
};
const stateText = ({ state, view: seen }: TrafficSource): string =>
  [seen?.counted, STATES[state]].filter((t) => t).join(', ');

onMounted(async () => {
  traffic.begin();
  missing.value = !(await history.open(id.value));
  if (!missing.value) traffic.open();
});
onBeforeUnmount(() => traffic.stop());
watch(
  () => traffic.selected,
  () => (span.value = null),
);

function choose(event: Event): void {
  const files = (event.target as HTMLInputElement).files ?? [];
  for (const file of files) traffic.bring(file);
}

function drop(event: DragEvent): void {
  for (const file of event.dataTransfer?.files ?? []) traffic.bring(file);
}

/** The service's tries, as a piece of evidence of its own. */
async function keep(): Promise<void> {
  const text = `${view.value?.lines.join('\n') ?? ''}\n`;
  await intake.takeIn(new TextEncoder().encode(text));
  await router.push({ name: 'bench', params: { id: id.value } });
}
</script>

<template>
  <TopBar title="Traffic" :line="history.document?.title"
    ><RouterLink :to="{ name: 'bench', params: { id } }">Back to the bench</RouterLink></TopBar
  >
  <main v-if="missing">
    <p>This case is not in this browser. <RouterLink to="/cases">All cases</RouterLink></p>
  </main>
  <main v-else @dragover.prevent @drop.prevent="drop">
    <div class="records">
      <button
        v-for="(s, i) in traffic.sources"
        :key="s.key"
        type="button"
        class="record"
        :aria-pressed="i === traffic.selected"
        @click="traffic.selected = i"
      >
        {{ s.name }}
        <span class="quiet">{{ stateText(s) }}</span>
      </button>
      <ElButton data-test="bring" @click="chooser?.click()">Bring a log or a capture</ElButton>
      <input ref="chooser" type="file" multiple hidden data-test="record-file" @change="choose" />
      <span class="quiet">of any size: it is counted here and goes nowhere</span>
    </div>
    <WatchLine />
    <PlacesPicture @found="(isFound) => (hasPlaces = isFound)" />
    <div v-if="traffic.current?.state === 'reads'" class="reading">
      <ElProgress :percentage="percent" :stroke-width="6" aria-label="How much of it is read" />
      <ElButton data-test="stop-reading" @click="traffic.stop()">Stop</ElButton>
    </div>
    <p v-if="traffic.current?.state === 'unknown'" role="alert">
      {{ traffic.current.name }} is no drop log and no capture that is read here. Bring it to the bench as
      evidence: it may be something else.
    </p>
    <p v-if="traffic.current?.state === 'failed'" role="alert">
      {{ traffic.current.name }} could not be read: {{ traffic.current.why }}
    </p>
    <template v-if="view">
      <section class="story" :class="view.lamp" data-test="traffic-story">
        <h1><AddressText :text="view.headline" /></h1>
        <p v-if="view.detail" class="quiet">{{ view.detail }}</p>
        <p v-for="w in view.watched" :key="w" data-test="watched"><AddressText :text="w" /></p>
        <div class="buttons">
          <ElButton v-if="view.lines.length > 0" type="primary" data-test="keep-tries" @click="keep"
            >Keep these tries as evidence</ElButton
          >
        </div>
      </section>
      <TrafficTimeline v-if="view.timeline" v-model="span" :timeline="view.timeline" />
      <TrafficRows v-model:span="span" :rows="view.rows" />
      <ul v-if="view.problems.length > 0" class="problems">
        <li v-for="p in view.problems" :key="p">{{ p }}</li>
      </ul>
    </template>
    <p v-else-if="traffic.sources.length === 0 && !hasPlaces" class="quiet" data-test="no-record">
      This case has no log and no capture yet. Ask for a drop log, or a capture taken at the server, while the
      client tries once.
    </p>
  </main>
</template>

<style scoped>
main {
  padding: 12px 20px 40px;
}

.records,
.reading {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  margin-bottom: 10px;
}

.record {
  padding: 4px 10px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: none;
  color: inherit;
  font: inherit;
  cursor: pointer;
}

.record[aria-pressed='true'] {
  background: var(--sheet);
  border-color: var(--ink);
}

.reading > :first-child {
  flex: 0 1 360px;
}

.story {
  margin: 4px 0 12px;
  padding: 8px 14px;
  border-left: 5px solid var(--fog);
  background: var(--sheet);
}

.story.shut {
  border-color: var(--shut);
}

.story.lit {
  border-color: var(--lit);
}

h1 {
  margin: 0;
  font-size: 18px;
}

.buttons {
  margin-top: 8px;
}
</style>
