import { createRouter, createWebHistory } from 'vue-router'
import { STAGES, type Stage } from './stages/stages'

/** Stages that hold several views of the same things. */
const VIEWS: Partial<Record<Stage['id'], string>> = {
  baseline: '/:view(runs|log|compare|plan|hand-readings|road|strip)?',
  change: '/:view(table|carburettor|ways)?',
  spark: '/:view(plan|fit|settings|table|mixture-sweep)?',
  response: '/:view(roll-ons|edges|grip|tables)?',
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'jobs', component: () => import('./pages/jobs/JobsView.vue') },
    { path: '/shelf', name: 'shelf', component: () => import('./pages/shelf/ShelfView.vue') },
    { path: '/safekeeping', name: 'safekeeping', component: () => import('./pages/keeping/KeepingView.vue') },
    { path: '/sharing', name: 'sharing', component: () => import('./pages/sharing/SharingView.vue') },
    { path: '/enter', name: 'enter', component: () => import('./pages/sharing/EnterView.vue') },
    { path: '/join', name: 'join', component: () => import('./pages/sharing/EnterView.vue') },
    { path: '/trainer', name: 'trainer', component: () => import('./pages/trainer/TrainerView.vue') },
    {
      path: '/jobs/:job',
      component: () => import('./stages/JobFrame.vue'),
      children: [
        { path: '', redirect: { name: 'mixture' } },
        { path: 'bench', name: 'bench', component: () => import('./bench/BenchView.vue') },
        ...STAGES.map(({ id, view }) => ({
          path: id + (VIEWS[id] ?? ''),
          name: id,
          component: view,
        })),
      ],
    },
    { path: '/:rest(.*)*', component: () => import('./pages/NotFound.vue') },
  ],
})
