<script setup lang="ts">
/** What just happened, with its undo, and what is being read. */
import { useAnalysis } from '../stores/analysis.ts';
import { useHistory } from '../stores/history.ts';
import { useIntake } from '../stores/intake.ts';
import { useNotices } from '../stores/notices.ts';

const analysis = useAnalysis();
const history = useHistory();
const intake = useIntake();
const notices = useNotices();
</script>

<template>
  <p v-if="notices.notice" class="message" :class="notices.notice.kind" role="status" data-test="message">
    {{ notices.notice.text }}
    <button
      v-if="notices.notice.canUndo && history.canUndo"
      type="button"
      class="link"
      @click="history.undo()"
    >
      Undo
    </button>
  </p>
  <p v-if="intake.readingSize !== null" class="reading" role="status" data-test="reading">
    <span class="runner" aria-hidden="true" />Reading {{ (intake.readingSize / 1024 / 1024).toFixed(1) }} MB …
    <button type="button" class="link" data-test="stop-reading" @click="analysis.stop()">Stop</button>
  </p>
</template>

<style scoped>
.message {
  padding: 4px 20px;
  background: var(--lit-soft);
  color: var(--lit);
}

.message.trouble {
  background: var(--shut-soft);
  color: var(--shut);
}

.message .link {
  color: inherit;
}

.reading {
  position: relative;
  padding: 6px 20px;
  background: var(--now);
  overflow: hidden;
}

.runner {
  position: absolute;
  left: 0;
  bottom: 0;
  width: 30%;
  height: 2px;
  background: var(--ferry);
  animation: run 1.2s linear infinite;
}

@keyframes run {
  from {
    transform: translateX(-100%);
  }

  to {
    transform: translateX(430%);
  }
}
</style>
