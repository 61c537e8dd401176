import { createRouter, createWebHistory } from 'vue-router';
import BenchPage from './views/BenchPage.vue';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'home', component: BenchPage },
    { path: '/case/:id', name: 'bench', component: BenchPage },
    { path: '/case/:id/handover', name: 'handover', component: () => import('./views/HandoverPage.vue') },
    { path: '/case/:id/traffic', name: 'traffic', component: () => import('./views/TrafficPage.vue') },
    { path: '/cases', name: 'cases', component: () => import('./views/CasesPage.vue') },
    { path: '/new', name: 'new', component: () => import('./views/NewCasePage.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
