<script setup lang="ts">
import {
  caseFromIntake,
  checkDialled,
  dialledFrom,
  endpointsFrom,
  portsText,
  readComplaint,
  type Intake,
} from '@bright-ferry/core/intake';
import { SYMPTOMS, type Symptom } from '@bright-ferry/core/case';
import { parseAddress } from '@bright-ferry/core/net';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed, onMounted, ref, watch } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { SYMPTOM_WORDS } from '../lib/caseWords.ts';
import ChoiceField from '../components/ChoiceField.vue';
import FirstCrossing from '../components/FirstCrossing.vue';
import TopBar from '../components/TopBar.vue';
import { useCabinet } from '../stores/cabinet.ts';

const EXAMPLE =
  'lantern reef, udp 28410 and tcp 28410, play.gannet.example.net from 198.51.100.23, times out';

/** One line is enough to open a case; what was picked out of it can be corrected before. */
const router = useRouter();
const cabinet = useCabinet();
const line = ref('');
const field = ref<HTMLTextAreaElement | null>(null);
const service = ref('');
const ports = ref('');
const dials = ref('');
const client = ref('');
const symptom = ref<Symptom>('unknown');

watch(line, (text) => {
  const found = readComplaint(text);
  service.value = found.service ?? '';
  ports.value = portsText(found.endpoints);
  dials.value = [found.dials ?? '', ...found.alsoDials].filter((d) => d !== '').join(', ');
  client.value = [found.client ?? '', ...found.others].filter((a) => a !== '').join(', ');
  symptom.value = found.symptom ?? 'unknown';
});

const endpoints = computed(() => endpointsFrom(ports.value));
const dialled = computed(() => dialledFrom(dials.value));
const dialProblems = computed(() =>
  dialled.value.flatMap((typed) => checkDialled(typed, endpoints.value ?? []).map((p) => ({ ...p, typed }))),
);
const senders = computed(() => client.value.split(/[\s,;]+/).filter((a) => a !== ''));
const clientProblem = computed(() =>
  senders.value.every((a) => parseAddress(a) !== null) ? '' : 'This is not an IP address.',
);
const portProblem = computed(() =>
  endpoints.value === null
    ? 'Write each as protocol and port, for example “udp 28410, tcp 28410-28415”.'
    : '',
);
const guessed = computed(() => (endpoints.value ?? []).filter((e) => e.guessed));

/** Says for all ports without a protocol which one it is. */
function say(protocols: readonly ('tcp' | 'udp')[]): void {
  ports.value = portsText(
    (endpoints.value ?? []).flatMap(({ guessed: isGuess, ...e }) =>
      isGuess ? protocols.map((protocol) => ({ ...e, protocol })) : [e],
    ),
  );
}
const ready = computed(
  () =>
    endpoints.value !== null &&
    clientProblem.value === '' &&
    [line, ports, dials, service].some((said) => said.value.trim() !== ''),
);

const opened = computed(() => {
  const intake: Intake = {
    service: service.value || null,
    endpoints: endpoints.value ?? [],
    dials: dialled.value[0] ?? null,
    alsoDials: dialled.value.slice(1),
    client: senders.value[0] ?? null,
    others: senders.value.slice(1),
    symptom: symptom.value,
    dialProblems: [],
    missing: [],
    says: line.value.trim(),
  };
  return caseFromIntake(intake, new Date().toISOString());
});

async function open(): Promise<void> {
  if (!ready.value) return;
  const id = await cabinet.create(opened.value);
  await router.push({ name: 'bench', params: { id } });
}

function take(typed: string, corrected: string): void {
  dials.value = dialled.value.map((d) => (d === typed ? corrected : d)).join(', ');
}

onMounted(() => field.value?.focus());
</script>

<template>
  <TopBar title="New case"><RouterLink to="/cases">All cases</RouterLink></TopBar>
  <main>
    <h1>What did the caller say?</h1>
    <p class="quiet">
      One line, in any order: service, protocol and port, what they dial, from where, what they see.
    </p>
    <textarea
      ref="field"
      v-model="line"
      data-test="complaint"
      rows="2"
      aria-label="What the caller said"
      :placeholder="EXAMPLE"
      @keydown.enter.exact.prevent="open"
    />
    <form @submit.prevent="open">
      <div class="row">
        <label for="service">Service</label>
        <input id="service" v-model="service" data-test="service" />
        <span class="quiet">what people call it</span>
      </div>
      <div class="row" :class="{ missing: ports === '' }">
        <label for="ports">Ports</label>
        <input id="ports" v-model="ports" data-test="ports" class="mono" aria-describedby="ports-note" />
        <span id="ports-note" :class="portProblem ? 'problem' : 'quiet'">{{
          portProblem ||
          (ports === '' ? 'missing: protocol and port, from the program’s own configuration' : '')
        }}</span>
      </div>
      <p v-if="guessed.length > 0" class="unsaid" data-test="unsaid">
        Nobody has said whether {{ guessed.map((e) => e.port).join(', ') }} is TCP or UDP; it is taken for
        TCP.
        <ElButton size="small" data-test="say-tcp" @click="say(['tcp'])">TCP</ElButton>
        <ElButton size="small" data-test="say-udp" @click="say(['udp'])">UDP</ElButton>
        <ElButton size="small" data-test="say-both" @click="say(['tcp', 'udp'])">Both</ElButton>
      </p>
      <div class="row" :class="{ missing: dials === '' }">
        <label for="dials">Dials</label>
        <input id="dials" v-model="dials" data-test="dials" class="mono" aria-describedby="dials-note" />
        <span id="dials-note" class="quiet">{{
          dials === '' ? 'missing: exactly what the client types' : ''
        }}</span>
      </div>
      <ul v-if="dialProblems.length > 0" class="slips" data-test="slips">
        <li v-for="p in dialProblems" :key="`${p.typed} ${p.kind}`">
          {{ p.text }}
          <button v-if="p.corrected" type="button" class="link mono" @click="take(p.typed, p.corrected)">
            {{ p.corrected }}
          </button>
        </li>
      </ul>
      <div class="row" :class="{ missing: client === '' }">
        <label for="client">From</label>
        <input id="client" v-model="client" data-test="client" class="mono" aria-describedby="client-note" />
        <span id="client-note" :class="clientProblem ? 'problem' : 'quiet'">{{
          clientProblem || (client === '' ? 'missing: the client’s address; it can follow later' : '')
        }}</span>
      </div>
      <div class="row">
        <span>Sees</span>
        <ChoiceField
          v-model="symptom"
          :choices="SYMPTOMS.map((s) => ({ value: s, label: SYMPTOM_WORDS[s] }))"
          label="What the client sees"
          data-test="symptom"
        />
        <span />
      </div>
      <ElButton type="primary" native-type="submit" data-test="open-case" :disabled="!ready"
        >Open the case</ElButton
      >
      <span class="quiet">&nbsp; <kbd>Enter</kbd> in the line above does the same</span>
    </form>
    <FirstCrossing v-if="ready" :document="opened" />
  </main>
</template>

<style scoped>
main {
  padding: 28px 20px;
}

form,
main > p {
  max-width: 880px;
}

h1 {
  font-size: 20px;
  font-weight: 600;
}

textarea {
  width: 100%;
  margin: 10px 0 18px;
  font-size: 14px;
}

.row {
  display: grid;
  grid-template-columns: 80px 320px 1fr;
  gap: 12px;
  align-items: center;
  padding: 4px 0 4px 8px;
  border-left: 4px solid transparent;
}

.row.missing {
  border-left-color: var(--ferry);
}

.problem {
  color: var(--shut);
}

.unsaid {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin: 2px 0 6px 104px;
}

.unsaid :deep(.el-button) {
  margin: 0;
}

.slips {
  margin: 2px 0 6px 104px;
  color: var(--shut);
  padding-left: 16px;
}

form :deep(.el-button) {
  margin-top: 14px;
}

@media (max-width: 700px) {
  .row {
    grid-template-columns: 1fr;
  }
}
</style>
