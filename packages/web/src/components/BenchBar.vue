<script setup lang="ts">
/** The bench's upper edge: the case's title, whether it is kept, and the ways to everything else. */
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import TopBar from './TopBar.vue';
import { useAnalysis } from '../stores/analysis.ts';
import { useHistory } from '../stores/history.ts';
import { useSelection } from '../stores/selection.ts';

const emit = defineEmits<{ openCase: []; export: []; commands: [] }>();
const analysis = useAnalysis();
const history = useHistory();
const selection = useSelection();
const id = computed(() => history.current?.id ?? '');
const kept = computed(() =>
  history.keptAt
    ? new Date(history.keptAt).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })
    : '',
);
const evidenceCount = computed(() => analysis.view?.stops.reduce((n, s) => n + s.files.length, 0) ?? 0);
</script>

<template>
  <TopBar
    :title="analysis.view?.title ?? ''"
    opens
    @open="emit('openCase')"
    :line="[analysis.view?.serviceLine, analysis.view?.clientLine].filter(Boolean).join(' · ')"
  >
    <span v-if="kept" class="quiet" data-test="kept" :data-at="history.keptAt">kept {{ kept }}</span>
    <button
      v-else-if="history.current"
      type="button"
      class="link unkept"
      data-test="unkept"
      title="It is in this page only. Export the case to keep it (x)"
      @click="emit('export')"
    >
      not kept: export
    </button>
    <button type="button" class="link" data-test="undo" :disabled="!history.canUndo" @click="history.undo()">
      Undo
    </button>
    <button type="button" class="link" data-test="redo" :disabled="!history.canRedo" @click="history.redo()">
      Redo
    </button>
    <button
      type="button"
      class="link"
      data-test="shelf-button"
      :aria-pressed="selection.panel === 'shelf'"
      @click="selection.toggle('shelf')"
    >
      Evidence {{ evidenceCount }}
    </button>
    <RouterLink v-if="id" :to="{ name: 'traffic', params: { id } }">Traffic</RouterLink>
    <RouterLink v-if="id" data-test="handover" :to="{ name: 'handover', params: { id } }"
      >Hand over</RouterLink
    >
    <RouterLink to="/cases">All cases</RouterLink>
    <RouterLink to="/new">New case</RouterLink>
    <button type="button" class="link" data-test="commands" @click="emit('commands')">
      Commands <kbd>?</kbd>
    </button>
  </TopBar>
</template>

<style scoped>
.unkept {
  color: var(--shut);
  font-weight: 600;
}
</style>
