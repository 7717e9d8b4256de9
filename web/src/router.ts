import { createRouter, createWebHistory } from 'vue-router'

import FindRoom from './rooms/find/FindRoom.vue'

declare module 'vue-router' {
  interface RouteMeta {
    title: string
    study?: boolean
  }
}

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (to) => (to.hash ? { el: to.hash } : { top: 0 }),
  routes: [
    { path: '/', name: 'find', meta: { title: 'Find' }, component: FindRoom },
    {
      path: '/models/:id/parts/:part',
      name: 'job',
      meta: { title: 'Job card' },
      component: () => import('./rooms/job/JobRoom.vue'),
    },
    {
      path: '/faults/:id',
      name: 'fault',
      meta: { title: 'Find a fault' },
      component: () => import('./rooms/faults/FaultRoom.vue'),
    },
    {
      path: '/models/:id/ways',
      name: 'ways',
      meta: { title: 'Ways' },
      component: () => import('./rooms/ways/WaysRoom.vue'),
    },
    {
      path: '/models/:id/score',
      name: 'score',
      meta: { title: 'Score' },
      component: () => import('./rooms/score/ScoreRoom.vue'),
    },
    {
      path: '/compare',
      name: 'compare',
      meta: { title: 'Compare' },
      component: () => import('./rooms/compare/CompareRoom.vue'),
    },
    {
      path: '/fit',
      name: 'fit',
      meta: { title: 'Fit' },
      component: () => import('./rooms/fit/FitRoom.vue'),
    },
    {
      path: '/parts',
      name: 'parts',
      meta: { title: 'Parts desk' },
      component: () => import('./rooms/parts/PartsRoom.vue'),
    },
    {
      path: '/accounts',
      name: 'accounts',
      meta: { title: 'Accounts' },
      component: () => import('./rooms/people/AccountsRoom.vue'),
    },
    {
      path: '/me',
      name: 'me',
      meta: { title: 'Your account' },
      component: () => import('./rooms/people/MeRoom.vue'),
    },
    {
      path: '/trail',
      name: 'trail',
      meta: { title: 'Who did what' },
      component: () => import('./rooms/people/TrailRoom.vue'),
    },
    {
      path: '/link/:token',
      name: 'link',
      meta: { title: 'One-time link', open: true },
      component: () => import('./rooms/people/LinkRoom.vue'),
    },
    {
      path: '/day',
      name: 'day',
      meta: { title: 'Bench day' },
      component: () => import('./rooms/day/DayRoom.vue'),
    },
    {
      path: '/studies/:id/intake',
      name: 'intake',
      meta: { title: 'Intake', study: true },
      component: () => import('./rooms/intake/IntakeRoom.vue'),
    },
    {
      path: '/studies/:id/strip',
      name: 'strip',
      meta: { title: 'Strip-down', study: true },
      component: () => import('./rooms/strip/StripRoom.vue'),
    },
    {
      path: '/studies/:id/narration',
      name: 'narration',
      meta: { title: 'Recording', study: true },
      component: () => import('./rooms/narration/NarrationRoom.vue'),
    },
    {
      path: '/studies/:id/swap',
      name: 'swap',
      meta: { title: 'Swap tests', study: true },
      component: () => import('./rooms/swap/SwapRoom.vue'),
    },
    {
      path: '/models/:id/follow/:part',
      name: 'follow',
      meta: { title: 'Follow' },
      component: () => import('./rooms/ways/FollowRoom.vue'),
    },
    {
      path: '/studies/:id/closeup',
      name: 'closeup',
      meta: { title: 'Close-up', study: true },
      component: () => import('./rooms/closeup/CloseupRoom.vue'),
    },
    {
      path: '/studies/:id/mat',
      name: 'mat',
      meta: { title: 'Screw mat', study: true },
      component: () => import('./rooms/closeup/MatRoom.vue'),
    },
    {
      path: '/dry-runs',
      name: 'dry-runs',
      meta: { title: 'Dry run' },
      component: () => import('./rooms/dryrun/DryRuns.vue'),
    },
    {
      path: '/dry-runs/:id',
      name: 'dry-run',
      meta: { title: 'Dry run' },
      component: () => import('./rooms/dryrun/DryRun.vue'),
    },
    {
      path: '/studies/:id/handover',
      name: 'handover',
      meta: { title: 'Hand-over', study: true },
      component: () => import('./rooms/handover/HandoverRoom.vue'),
    },
    {
      path: '/:rest(.*)*',
      name: 'nowhere',
      meta: { title: 'Nothing here' },
      component: () => import('./rooms/find/NowhereRoom.vue'),
    },
  ],
})

router.afterEach((to) => {
  document.title = `${to.meta.title} · Wary Owl`
})
