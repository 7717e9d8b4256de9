import { createRouter, createWebHistory } from 'vue-router'

import FindRoom from './rooms/find/FindRoom.vue'
import { rooms } from './words'

declare module 'vue-router' {
  interface RouteMeta {
    study?: boolean
    open?: boolean
  }
}

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (to) => (to.hash ? { el: to.hash } : { top: 0 }),
  routes: [
    { path: '/', name: 'find', component: FindRoom },
    {
      path: '/models/:id/parts/:part',
      name: 'job',
      component: () => import('./rooms/job/JobRoom.vue'),
    },
    {
      path: '/faults/:id',
      name: 'fault',
      component: () => import('./rooms/faults/FaultRoom.vue'),
    },
    {
      path: '/models/:id/ways',
      name: 'ways',
      component: () => import('./rooms/ways/WaysRoom.vue'),
    },
    {
      path: '/models/:id/score',
      name: 'score',
      component: () => import('./rooms/score/ScoreRoom.vue'),
    },
    {
      path: '/compare',
      name: 'compare',
      component: () => import('./rooms/compare/CompareRoom.vue'),
    },
    {
      path: '/fit',
      name: 'fit',
      component: () => import('./rooms/fit/FitRoom.vue'),
    },
    {
      path: '/parts',
      name: 'parts',
      component: () => import('./rooms/parts/PartsRoom.vue'),
    },
    {
      path: '/accounts',
      name: 'accounts',
      component: () => import('./rooms/people/AccountsRoom.vue'),
    },
    {
      path: '/me',
      name: 'me',
      component: () => import('./rooms/people/MeRoom.vue'),
    },
    {
      path: '/trail',
      name: 'trail',
      component: () => import('./rooms/people/TrailRoom.vue'),
    },
    {
      path: '/link/:token',
      name: 'link',
      meta: { open: true },
      component: () => import('./rooms/people/LinkRoom.vue'),
    },
    {
      path: '/day',
      name: 'day',
      component: () => import('./rooms/day/DayRoom.vue'),
    },
    {
      path: '/studies/:id/intake',
      name: 'intake',
      meta: { study: true },
      component: () => import('./rooms/intake/IntakeRoom.vue'),
    },
    {
      path: '/studies/:id/strip',
      name: 'strip',
      meta: { study: true },
      component: () => import('./rooms/strip/StripRoom.vue'),
    },
    {
      path: '/studies/:id/narration',
      name: 'narration',
      meta: { study: true },
      component: () => import('./rooms/narration/NarrationRoom.vue'),
    },
    {
      path: '/studies/:id/swap',
      name: 'swap',
      meta: { study: true },
      component: () => import('./rooms/swap/SwapRoom.vue'),
    },
    {
      path: '/models/:id/follow/:part',
      name: 'follow',
      redirect: (to) => ({ name: 'job', params: to.params, query: { take: '1' } }),
    },
    {
      path: '/visits/:id',
      name: 'visit',
      component: () => import('./rooms/visit/VisitRoom.vue'),
    },
    {
      path: '/visits/:id/follow',
      name: 'repair',
      component: () => import('./rooms/visit/FollowRoom.vue'),
    },
    { path: '/bench', redirect: '/' },
    {
      path: '/studies/:id/closeup',
      name: 'closeup',
      meta: { study: true },
      component: () => import('./rooms/closeup/CloseupRoom.vue'),
    },
    {
      path: '/studies/:id/mat',
      name: 'mat',
      meta: { study: true },
      component: () => import('./rooms/closeup/MatRoom.vue'),
    },
    {
      path: '/dry-runs',
      name: 'dry-runs',
      component: () => import('./rooms/dryrun/DryRuns.vue'),
    },
    {
      path: '/dry-runs/:id',
      name: 'dry-run',
      component: () => import('./rooms/dryrun/DryRun.vue'),
    },
    {
      path: '/studies/:id/handover',
      name: 'handover',
      meta: { study: true },
      component: () => import('./rooms/handover/HandoverRoom.vue'),
    },
    {
      path: '/:rest(.*)*',
      name: 'nowhere',
      component: () => import('./rooms/find/NowhereRoom.vue'),
    },
  ],
})

router.afterEach((to) => {
  document.title = `${rooms[String(to.name)] ?? ''} · Wary Owl`
})
