/** Colors and letters of the theme that is on screen, for what does not read style sheets itself. */
export function readTheme() {
  const style = getComputedStyle(document.querySelector('.v-application') ?? document.body);
  return {
    color: (name: string) => `rgb(${style.getPropertyValue(`--v-theme-${name}`).trim()})`,
    mono: style.getPropertyValue('--mono') || 'monospace',
    sans: style.getPropertyValue('--sans') || 'sans-serif',
  };
}
