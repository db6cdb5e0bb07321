import { createRouter, createWebHistory } from 'vue-router'
import { STAGES } from './stages/stages'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'jobs', component: () => import('./jobs/JobsView.vue') },
    { path: '/trainer', name: 'trainer', component: () => import('./trainer/TrainerView.vue') },
    {
      path: '/jobs/:job',
      component: () => import('./stages/JobFrame.vue'),
      children: [
        { path: '', redirect: { name: 'mixture' } },
        { path: 'bench', name: 'bench', component: () => import('./bench/BenchView.vue') },
        ...STAGES.map(({ id, view }) => ({
          // Baseline holds several views of the same runs.
          path: id === 'baseline' ? 'baseline/:view(runs|compare|plan|hand-readings)?' : id,
          name: id,
          component: view ?? (() => import('./stages/NotBuilt.vue')),
        })),
      ],
    },
    { path: '/:rest(.*)*', component: () => import('./shell/NotFound.vue') },
  ],
})
