import { createVuetify, type ThemeDefinition } from 'vuetify';
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg';

const light: ThemeDefinition = {
  dark: false,
  colors: {
    background: '#F4F4F1',
    surface: '#FFFFFF',
    'surface-variant': '#E9E9E4',
    'on-surface-variant': '#1B2123',
    line: '#D9DAD5',
    ink: '#1B2123',
    'soft-ink': '#566063',
    primary: '#0B6B60',
    'on-primary': '#FFFFFF',
    met: '#0B6B60',
    'met-soft': '#C2DDD8',
    saffron: '#8A5A00',
    'saffron-line': '#B97A00',
    'saffron-soft': '#FBEFD2',
    madder: '#A8322A',
    'madder-soft': '#F8E0DD',
    error: '#A8322A',
    warning: '#8A5A00',
    success: '#0B6B60',
    info: '#3A5F7D',
    'on-background': '#1B2123',
    'on-surface': '#1B2123',
    track: '#E7E8E3',
  },
};
const dark: ThemeDefinition = {
  dark: true,
  colors: {
    background: '#151A1B',
    surface: '#1E2526',
    'surface-variant': '#2A3233',
    'on-surface-variant': '#E8EAE6',
    line: '#384142',
    ink: '#EDEFEA',
    'soft-ink': '#A6B0B1',
    primary: '#58BCAC',
    'on-primary': '#0A1716',
    met: '#58BCAC',
    'met-soft': '#20514A',
    saffron: '#F0BE58',
    'saffron-line': '#D79A2B',
    'saffron-soft': '#3A2F16',
    madder: '#F0897F',
    'madder-soft': '#43221F',
    error: '#F0897F',
    warning: '#F0BE58',
    success: '#58BCAC',
    info: '#8DB4D3',
    'on-background': '#EDEFEA',
    'on-surface': '#EDEFEA',
    track: '#333C3D',
  },
};

/** Vuetify for behaviour and accessibility; colors, shapes and type are Apodix's own. */
export function createTheme() {
  return createVuetify({
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    theme: { defaultTheme: 'system', themes: { light, dark }, variations: false },
    defaults: {
      VBtn: { rounded: 'md', variant: 'flat', elevation: 0, ripple: false },
      VTextField: { variant: 'outlined', density: 'comfortable', hideDetails: 'auto' },
      VTextarea: {
        variant: 'outlined',
        density: 'comfortable',
        hideDetails: 'auto',
        autoGrow: true,
        rows: 2,
      },
      VSelect: { variant: 'outlined', density: 'comfortable', hideDetails: 'auto' },
      VCheckbox: { density: 'comfortable', hideDetails: 'auto', color: 'primary' },
    },
  });
}
