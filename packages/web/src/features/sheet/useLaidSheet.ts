import { layOutSheet, type MeasureText, type Sheet, type SizePx } from '@apodix/core';
import '@fontsource-variable/atkinson-hyperlegible-next/wght-italic.css';
import { computed, shallowRef, type ComputedRef } from 'vue';

const FAMILY = '"Atkinson Hyperlegible Next Variable"';
/** Widths are taken at this size, where they are not rounded to points of the screen. */
const MEASURED_PX = 100;

/** A sheet laid out with the fonts of the page, which are those of the file; null where it has no pieces. */
export function useLaidSheet(sheet: ComputedRef<Sheet>, sizes: ComputedRef<readonly SizePx[]>) {
  const areFontsHere = shallowRef(0);
  const context = document.createElement('canvas').getContext('2d');
  const styles = ['400', '700', 'italic 400', 'italic 700'].map((style) => `${style} 16px ${FAMILY}`);
  void Promise.allSettled(styles.map((style) => document.fonts.load(style))).then(
    () => (areFontsHere.value += 1),
  );
  const measure: MeasureText = (text, { isBold, isItalic, sizePt }) => {
    if (!context) return text.length * sizePt * 0.5;
    context.font = `${isItalic ? 'italic ' : ''}${isBold ? 700 : 400} ${MEASURED_PX}px ${FAMILY}`;
    return (context.measureText(text).width / MEASURED_PX) * sizePt;
  };
  return computed(() => {
    void areFontsHere.value;
    return sheet.value.pieces.length === 0 ? null : layOutSheet(sheet.value, sizes.value, measure);
  });
}
