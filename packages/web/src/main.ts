import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import 'vuetify/styles';
import './theme/base.css';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './App.vue';
import { createAppRouter } from './router.ts';
import { createTheme } from './theme/create-theme.ts';

createApp(App).use(createPinia()).use(createAppRouter()).use(createTheme()).mount('#app');
