import { createRouter, createWebHistory } from 'vue-router'
import PlansView from './plans/PlansView.vue'
import { goOnWithTurns, holdTurns } from './state/inTurn'

const stages = {
  path: () => import('./stages/path/PathView.vue'),
  device: () => import('./stages/device/DeviceView.vue'),
  voltage: () => import('./stages/voltage/VoltageView.vue'),
  cells: () => import('./stages/cells/CellsView.vue'),
  brick: () => import('./stages/brick/BrickView.vue'),
  protection: () => import('./stages/protection/ProtectionView.vue'),
  charging: () => import('./stages/charging/ChargingView.vue'),
  wiring: () => import('./stages/wiring/WiringView.vue'),
  run: () => import('./stages/run/RunView.vue'),
}

/** Fetches the stages while nobody waits, so that the first visit of each is as quick as the next. */
export function fetchStages(): void {
  // Not later than that: a long page is filled for a second, and somebody may go on at once.
  const soonest = { timeout: 300 }
  // One that cannot be had now is fetched when it is visited.
  const all = () => Object.values(stages).forEach((stage) => void stage().catch(() => undefined))
  if ('requestIdleCallback' in window) requestIdleCallback(all, soonest)
  else setTimeout(all, 1000)
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'plans', component: PlansView },
    { path: '/new', name: 'new', component: () => import('./plans/NewPlanView.vue') },
    {
      path: '/plan/:id',
      component: () => import('./frame/PlanFrame.vue'),
      children: [
        { path: '', redirect: (to) => ({ name: 'path', params: to.params }) },
        ...Object.entries(stages).map(([name, component]) => ({ path: name, name, component })),
        {
          path: 'propose',
          name: 'propose',
          component: () => import('./propose/ProposeView.vue'),
          meta: { wide: true },
        },
        { path: 'later', name: 'later', component: () => import('./misuse/MisuseView.vue') },
        {
          path: 'diagram',
          name: 'diagram',
          component: () => import('./diagram/DiagramView.vue'),
          meta: { wide: true },
        },
        {
          path: 'build',
          name: 'build',
          component: () => import('./build/BuildView.vue'),
          meta: { wide: true, bare: true },
        },
        {
          path: 'odd',
          name: 'odd',
          component: () => import('./odd/OddView.vue'),
          meta: { wide: true, bare: true },
        },
        { path: 'made', name: 'made', component: () => import('./packs/MadeView.vue') },
        { path: 'bill', name: 'bill', component: () => import('./bill/BillView.vue') },
      ],
    },
    {
      path: '/stock',
      component: () => import('./stock/StockFrame.vue'),
      children: [
        { path: '', name: 'stock', component: () => import('./stock/CellsView.vue') },
        { path: 'inspect', name: 'inspect', component: () => import('./stock/InspectView.vue') },
        { path: 'group', name: 'group', component: () => import('./stock/GroupView.vue') },
      ],
    },
    { path: '/packs', name: 'packs', component: () => import('./packs/PacksView.vue') },
    { path: '/packs/:id', name: 'pack', component: () => import('./packs/PackView.vue') },
    { path: '/glossary', name: 'glossary', component: () => import('./glossary/GlossaryView.vue') },
    { path: '/parts', name: 'parts', component: () => import('./parts/PartsView.vue') },
    { path: '/:rest(.*)', redirect: '/' },
  ],
})

router.beforeEach(holdTurns)
router.afterEach(goOnWithTurns)
router.onError(goOnWithTurns)
