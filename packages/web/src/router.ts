import { createRouter, createWebHistory, type Router } from 'vue-router';
import { useSession } from './stores/session.ts';

export function createAppRouter(): Router {
  const router = createRouter({
    history: createWebHistory(),
    routes: [
      { path: '/', redirect: '/today' },
      {
        path: '/sign-in',
        name: 'sign-in',
        component: () => import('./features/account/SignInPage.vue'),
        meta: { isOpen: true, title: 'Sign in' },
      },
      {
        path: '/today',
        name: 'today',
        component: () => import('./features/today/TodayPage.vue'),
        meta: { title: 'Today' },
      },
      {
        path: '/quick-fit',
        name: 'quick-fit',
        component: () => import('./features/quick-fit/QuickFitPage.vue'),
        meta: { isOpen: true, title: 'Quick fit' },
      },
      {
        path: '/new',
        name: 'new-assignment',
        component: () => import('./features/brief/NewAssignmentPage.vue'),
        meta: { title: 'Make my own assignment' },
      },
      {
        path: '/takes',
        name: 'my-takes',
        component: () => import('./features/takes/MyTakesPage.vue'),
        meta: { title: 'My takes' },
      },
      {
        path: '/receipt-key',
        name: 'receipt-key',
        component: () => import('./features/hand-in/ReceiptKeyPage.vue'),
        meta: { isOpen: true, title: 'Key of receipts' },
      },
      {
        path: '/receipts/:receiptId',
        name: 'receipt',
        component: () => import('./features/hand-in/ReceiptPage.vue'),
        meta: { title: 'Receipt' },
      },
      {
        path: '/work/:assignmentId',
        component: () => import('./features/work/WorkLayout.vue'),
        children: [
          { path: '', redirect: (to) => ({ name: 'brief', params: to.params }) },
          {
            path: 'brief',
            name: 'brief',
            component: () => import('./features/brief/BriefPage.vue'),
            meta: { title: 'Brief' },
          },
          {
            path: 'takes',
            name: 'takes',
            component: () => import('./features/takes/TakesPage.vue'),
            meta: { title: 'Takes' },
          },
          {
            path: 'shape',
            name: 'shape',
            component: () => import('./features/shape/ShapePage.vue'),
            meta: { title: 'Shape' },
          },
          {
            path: 'sheet',
            name: 'sheet',
            component: () => import('./features/sheet/SheetPage.vue'),
            meta: { title: 'Sheet' },
          },
          {
            path: 'fit',
            name: 'fit',
            component: () => import('./features/fit/FitPage.vue'),
            meta: { title: 'Fit' },
          },
          {
            path: 'hand-in',
            name: 'hand-in',
            component: () => import('./features/hand-in/HandInPage.vue'),
            meta: { title: 'Hand in' },
          },
        ],
      },
      {
        path: '/phone/:token?',
        name: 'phone',
        component: () => import('./features/phone/PhonePage.vue'),
        meta: { isOpen: true, title: 'Send from this phone' },
      },
      {
        path: '/cards',
        name: 'cards',
        component: () => import('./features/cards/CardsPage.vue'),
        meta: { title: 'Cards' },
      },
      {
        path: '/:rest(.*)*',
        component: () => import('./layout/MissingPage.vue'),
        meta: { isOpen: true, title: 'Not here' },
      },
    ],
  });
  router.beforeEach(async (to) => {
    if (to.meta.isOpen) return true;
    try {
      const person = await useSession().read();
      return person ? true : { name: 'sign-in', query: { next: to.fullPath } };
    } catch {
      // Nobody can tell who is signed in: the page itself says that Apodix cannot be reached.
      return true;
    }
  });
  router.afterEach((to) => {
    document.title = `${String(to.meta.title ?? 'Apodix')} · Apodix`;
  });
  return router;
}
