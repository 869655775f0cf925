declare module 'vuetify/styles';
declare module '@fontsource-variable/atkinson-hyperlegible-next';
declare module '@fontsource-variable/atkinson-hyperlegible-mono';
declare module '@fontsource-variable/bricolage-grotesque';
declare module 'plotly.js-cartesian-dist-min' {
  export function react(
    element: HTMLElement,
    data: unknown,
    layout: unknown,
    config: unknown,
  ): Promise<unknown>;
  export function purge(element: HTMLElement): void;
  export const Fx: {
    hover(element: HTMLElement, points: readonly { curveNumber: number; pointNumber: number }[]): void;
    unhover(element: HTMLElement, event?: unknown): void;
  };
}
