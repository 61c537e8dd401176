<script setup lang="ts">
import type { Handover } from '@bright-ferry/core/views';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { onMounted, ref, shallowRef } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import TopBar from '../components/TopBar.vue';
import { copyText, download } from '../lib/download.ts';
import { useAnalysis } from '../stores/analysis.ts';
import { useHistory } from '../stores/history.ts';
import { fileName, useCabinet } from '../stores/cabinet.ts';

/** The story of a case to print, to copy as Markdown, or to hand over with the case file. */
const route = useRoute();
const history = useHistory();
const analysis = useAnalysis();
const cabinet = useCabinet();
const story = shallowRef<Handover | null>(null);
const markdown = ref('');
const page = ref('');
const said = ref('');
const missing = ref(false);

onMounted(async () => {
  missing.value = !(await history.open(String(route.params['id'])));
  if (missing.value) return;
  const now = new Date().toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });
  const made = await analysis.ask('handover', { now });
  if (!made) return;
  story.value = made.handover;
  markdown.value = made.markdown;
  page.value = made.page;
});

async function copy(): Promise<void> {
  said.value = (await copyText(markdown.value))
    ? 'Copied.'
    : 'The browser does not let the page copy; take the file instead.';
}

const print = (): void => window.print();

async function exportCase(): Promise<void> {
  const packed = history.current && (await cabinet.pack(history.current.id, history.exported()));
  if (packed) download(packed.name, packed.bytes, 'application/zip');
}
</script>

<template>
  <TopBar title="Hand over" :line="story?.title"
    ><RouterLink :to="{ name: 'bench', params: { id: String(route.params['id']) } }"
      >Back to the bench</RouterLink
    ></TopBar
  >
  <main v-if="missing">
    <p>This case is not in this browser. <RouterLink to="/cases">All cases</RouterLink></p>
  </main>
  <main v-else-if="story">
    <div class="buttons no-print">
      <ElButton type="primary" data-test="copy-markdown" @click="copy">Copy as Markdown</ElButton>
      <ElButton @click="download(`${fileName(story.title)}.md`, markdown, 'text/markdown')"
        >Keep as Markdown</ElButton
      >
      <ElButton data-test="keep-page" @click="download(`${fileName(story.title)}.html`, page, 'text/html')"
        >Keep as a page</ElButton
      >
      <ElButton @click="print">Print</ElButton>
      <ElButton data-test="export-case" @click="exportCase">Export the case</ElButton>
      <span role="status" class="quiet">{{ said }}</span>
    </div>
    <article data-test="story">
      <h1>{{ story.title }}</h1>
      <section v-for="s in story.sections" :key="s.heading">
        <h2>{{ s.heading }}</h2>
        <template v-for="(b, i) in s.blocks" :key="i">
          <p v-if="b.is === 'text'" :class="{ first: s.heading === 'Verdict' && i === 0 }">{{ b.text }}</p>
          <ul v-else-if="b.is === 'list'">
            <li v-for="item in b.items" :key="item">{{ item }}</li>
          </ul>
          <pre v-else-if="b.is === 'code'" class="mono">{{ b.text }}</pre>
          <table v-else>
            <thead v-if="b.head.some((h) => h !== '')">
              <tr>
                <th v-for="h in b.head" :key="h" scope="col">{{ h }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, r) in b.rows" :key="r">
                <td v-for="(c, k) in row" :key="k">{{ c }}</td>
              </tr>
            </tbody>
          </table>
        </template>
      </section>
    </article>
  </main>
</template>

<style scoped>
main {
  padding: 18px 20px 40px;
  max-width: 820px;
}

.buttons {
  margin-bottom: 18px;
}

h1 {
  font-size: 22px;
}

h2 {
  font-size: 16px;
  margin: 18px 0 4px;
  border-bottom: 1px solid var(--line);
}

.first {
  font-size: 17px;
  font-weight: 600;
}

ul {
  padding-left: 18px;
}

pre {
  margin: 4px 0;
  padding: 6px 10px;
  background: var(--sheet);
  border: 1px solid var(--line);
  white-space: pre-wrap;
}

td {
  border-top: 1px solid var(--line);
  overflow-wrap: anywhere;
}
</style>
