declare module 'vuetify/styles';
declare module '@fontsource-variable/atkinson-hyperlegible-next';
declare module '@fontsource-variable/atkinson-hyperlegible-mono';
declare module '@fontsource-variable/bricolage-grotesque';
