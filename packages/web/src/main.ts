import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import 'vuetify/styles';
import './theme/base.css';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import { onSignedOut } from './api/query-client.ts';
import App from './App.vue';
import { createAppRouter } from './router.ts';
import { useSession } from './stores/session.ts';
import { createTheme } from './theme/create-theme.ts';

const router = createAppRouter();
createApp(App).use(createPinia()).use(router).use(createTheme()).mount('#app');
onSignedOut(() => {
  const { name, fullPath } = router.currentRoute.value;
  if (name === 'sign-in') return;
  useSession().forget();
  void router.push({ name: 'sign-in', query: { next: fullPath } });
});
