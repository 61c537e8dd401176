<script setup lang="ts">
import { defineAsyncComponent, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import BenchBar from '../components/BenchBar.vue';
import BenchPanels from '../components/BenchPanels.vue';
import CrossingMap from '../components/CrossingMap.vue';
import MessageLine from '../components/MessageLine.vue';
import MisreadLine from '../components/MisreadLine.vue';
import PendingLine from '../components/PendingLine.vue';
import ProposalStrip from '../components/ProposalStrip.vue';
import SuspectLine from '../components/SuspectLine.vue';
import TryBar from '../components/TryBar.vue';
import AfterwardsLine from '../components/AfterwardsLine.vue';
import TooOpenLine from '../components/TooOpenLine.vue';
import VerdictLine from '../components/VerdictLine.vue';
import WholeLine from '../components/WholeLine.vue';
import { useBenchCommands } from '../lib/benchCommands.ts';
import { listenForKeys } from '../lib/commands.ts';
import { ageText } from '../lib/age.ts';
import { useIncoming } from '../lib/incoming.ts';
import { useAnalysis } from '../stores/analysis.ts';
import { useEdits } from '../stores/edits.ts';
import { useHistory } from '../stores/history.ts';
import { useIntake } from '../stores/intake.ts';
import { useNotices } from '../stores/notices.ts';
import { useSelection } from '../stores/selection.ts';
import { useCabinet } from '../stores/cabinet.ts';

// Seldom needed at once: fetched when they are first opened, so that the bench is there sooner.
const CommandList = defineAsyncComponent(() => import('../components/CommandList.vue'));
const RehearsalPanel = defineAsyncComponent(() => import('../components/RehearsalPanel.vue'));

const route = useRoute();
const router = useRouter();
const analysis = useAnalysis();
const history = useHistory();
const edits = useEdits();
const intake = useIntake();
const notices = useNotices();
const selection = useSelection();
const cabinet = useCabinet();
const missing = ref(false);
const listOpen = ref(false);
const listAsked = ref(false);
watch(listOpen, (open) => open && (listAsked.value = true));

watch(() => [route.name, route.params['id']] as const, load, { immediate: true });

async function load(): Promise<void> {
  missing.value = false;
  if (route.name === 'home') {
    const newest = cabinet.heads[0];
    if (newest) await router.replace({ name: 'bench', params: { id: newest.id } });
    else await router.replace({ name: 'new' });
  } else if (route.name === 'bench') {
    missing.value = !(await history.open(String(route.params['id'])));
    document.title = history.document ? `${history.document.title} · Bright Ferry` : 'Bright Ferry';
  }
}

const { openStop, exportCase, commands } = useBenchCommands(() => (listOpen.value = true));

async function takeFiles(files: readonly File[]): Promise<void> {
  for (const file of files) {
    if (/\.ferry\.zip$/i.test(file.name)) {
      const added = await cabinet.importFile(file);
      if (added) await router.push({ name: 'bench', params: { id: added } });
      else if (cabinet.importProblem) notices.trouble(cabinet.importProblem);
    } else await intake.takeInFile(file);
  }
}

const { dragging, drop } = useIncoming({
  text: (text) => void intake.takeIn(new TextEncoder().encode(text)),
  files: (files) => void takeFiles(files),
  isClosed: () => listOpen.value,
});

/** A page with work that is nowhere else asks before it goes. */
function beforeLeaving(event: BeforeUnloadEvent): void {
  if (history.current && history.keptAt === null) event.preventDefault();
}

let stopKeys = (): void => undefined;
onMounted(() => {
  stopKeys = listenForKeys(() => (listOpen.value ? [] : commands.value));
  window.addEventListener('beforeunload', beforeLeaving);
});
onBeforeUnmount(() => {
  stopKeys();
  window.removeEventListener('beforeunload', beforeLeaving);
});
</script>

<template>
  <div
    class="bench"
    :class="{ dragging }"
    @dragover.prevent="dragging = true"
    @dragleave.self="dragging = false"
    @drop="drop"
  >
    <BenchBar @open-case="selection.toggle('case')" @export="exportCase" @commands="listOpen = true" />
    <main v-if="missing" class="missing">
      <h1>This case is not in this browser</h1>
      <p>
        It was removed, or it was opened in another browser. <RouterLink to="/cases">All cases</RouterLink>
      </p>
    </main>
    <main v-else-if="analysis.view" class="main">
      <p v-if="history.document?.closed" class="closed" data-test="closed">
        Closed {{ ageText(history.document.closed) }}.
        <button type="button" class="link" @click="edits.setClosed(false)">Open it again</button>
      </p>
      <template v-if="!selection.rehearsed">
        <VerdictLine :verdict="analysis.view.verdict" />
        <SuspectLine />
        <WholeLine v-if="analysis.view.ifWhole" :if-whole="analysis.view.ifWhole" />
        <AfterwardsLine v-if="analysis.view.afterwards" :afterwards="analysis.view.afterwards" />
        <TooOpenLine v-if="analysis.view.warnings.length > 0" :warnings="analysis.view.warnings" />
        <TryBar :view="analysis.view" />
        <CrossingMap :crossing="analysis.view.crossing" :open="selection.openStop" @open="openStop" />
      </template>
      <MessageLine />
      <PendingLine v-if="intake.pending" />
      <MisreadLine v-if="intake.misread" />
      <ProposalStrip
        v-if="
          !selection.rehearsed &&
          (analysis.view.proposals.length > 0 || analysis.view.contradictions.length > 0)
        "
        :proposals="analysis.view.proposals"
        :contradictions="analysis.view.contradictions"
      />
      <RehearsalPanel v-if="selection.rehearsed" />
      <BenchPanels v-else :view="analysis.view" />
    </main>
    <main v-else-if="analysis.failed" class="missing" data-test="failed">
      <h1>This case cannot be worked out</h1>
      <p role="alert">{{ analysis.failed }}</p>
      <p class="ways">
        <ElButton v-if="history.canUndo" type="primary" @click="history.undo()">Undo the last step</ElButton>
        <ElButton data-test="export-failed" @click="exportCase">Export the case</ElButton>
        <RouterLink to="/cases">All cases</RouterLink>
      </p>
    </main>
    <p v-else class="missing quiet">Working it out …</p>
    <CommandList v-if="listAsked" v-model="listOpen" :commands="commands" />
  </div>
</template>

<style scoped>
.bench {
  height: 100vh;
  display: flex;
  flex-direction: column;
}

.dragging {
  outline: 3px dashed var(--ferry);
  outline-offset: -6px;
}

.main {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}

.missing {
  padding: 24px 20px;
}

.ways {
  display: flex;
  gap: 16px;
  align-items: center;
  margin-top: 12px;
}

.closed {
  padding: 4px 20px;
  background: var(--fog-soft);
}

@media (max-width: 900px), (max-height: 620px) {
  .bench {
    height: auto;
    min-height: 100vh;
  }
}
</style>
