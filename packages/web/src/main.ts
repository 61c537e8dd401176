import '@fontsource/source-sans-3/latin-400.css';
import '@fontsource/source-sans-3/latin-600.css';
import '@fontsource/ibm-plex-mono/latin-400.css';
import '@fontsource/ibm-plex-mono/latin-600.css';
import 'element-plus/es/components/button/style/css';
import 'element-plus/es/components/dialog/style/css';
import './styles/tokens.css';
import './styles/base.css';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './App.vue';
import { router } from './router.ts';
import { workOffline } from './lib/offline.ts';
import { applyTheme, storedTheme } from './lib/theme.ts';

applyTheme(storedTheme());
createApp(App).use(createPinia()).use(router).mount('#app');
workOffline();
