<script setup lang="ts">
import type { StopDetail } from '@bright-ferry/core/views';
import { posixCollector, powershellCollector } from '@bright-ferry/core/asks';
import { ref } from 'vue';
import { copyText } from '../lib/download.ts';

/**
 * Everything that a stop can be asked for, each with the exact command or click path, to be copied with
 * words for the owner.
 */
const props = defineProps<{ stop: StopDetail }>();
type Ask = StopDetail['asks'][number];
const system = ref<string | null>(null);
const copied = ref<string | null>(null);

const commandOf = (ask: Ask) =>
  ask.words.commands.find((c) => c.system === system.value) ?? ask.words.commands[0] ?? null;
const systems = ['linux', 'windows', 'macos', 'page', 'cloud'].flatMap((s) => {
  const found = props.stop.asks.flatMap((a) => a.words.commands).find((c) => c.system === s);
  return found ? [{ system: s, label: found.label }] : [];
});

async function copy(key: string, text: string): Promise<void> {
  copied.value = (await copyText(text)) ? key : 'blocked';
}

function whole(ask: Ask): string {
  const command = commandOf(ask);
  return [ask.words.message, ...(command ? [`    ${command.text}`] : [])].join('\n\n');
}
</script>

<template>
  <div class="asks" data-test="asks">
    <p class="head">
      <span class="quiet">for</span>
      <button
        v-for="s in systems"
        :key="s.system"
        type="button"
        class="system"
        :aria-pressed="system === s.system"
        :data-test="`system-${s.system}`"
        @click="system = system === s.system ? null : s.system"
      >
        {{ s.label }}
      </button>
      <span v-if="stop.role === 'host' || stop.role === 'gateway'" class="quiet"
        >all in one go:
        <button type="button" class="link" data-test="ask-posix" @click="copy('posix', posixCollector())">
          {{ copied === 'posix' ? 'copied' : 'script for a POSIX shell' }}
        </button>
        <button
          type="button"
          class="link"
          data-test="ask-powershell"
          @click="copy('powershell', powershellCollector())"
        >
          {{ copied === 'powershell' ? 'copied' : 'script for PowerShell' }}
        </button></span
      >
    </p>
    <p v-if="copied === 'blocked'" role="status">
      The browser does not let the page copy; select the text instead.
    </p>
    <ul>
      <li v-for="ask in stop.asks" :key="ask.yields" :class="{ here: ask.here }">
        <span class="title"
          >{{ ask.words.title }} <span v-if="ask.here" class="quiet">(here already)</span></span
        >
        <span v-if="commandOf(ask)" class="command"
          ><span class="quiet">{{ commandOf(ask)!.label }}:</span>
          <span class="mono">{{ commandOf(ask)!.text }}</span></span
        >
        <button
          type="button"
          class="link"
          :data-test="`ask-${ask.yields}`"
          :aria-label="`Copy words for the owner: ${ask.words.title}`"
          @click="copy(ask.yields, whole(ask))"
        >
          {{ copied === ask.yields ? 'copied' : 'copy' }}
        </button>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin-bottom: 4px;
}

ul {
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: minmax(150px, 220px) 1fr auto;
  gap: 12px;
  padding: 4px 0;
  border-top: 1px solid var(--line);
}

.here .title {
  color: var(--lit);
}

.command {
  overflow-wrap: anywhere;
}
</style>
