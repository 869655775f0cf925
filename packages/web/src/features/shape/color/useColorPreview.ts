import {
  createPlainColor,
  evenPicture,
  isPlainColor,
  mapGains,
  type ColorSettings,
  type ColorTable,
  type EvenLight,
} from '@apodix/core';
import { computed, onScopeDispose, ref, shallowRef, watch, type ComputedRef, type Ref } from 'vue';
import { readPlanes } from './read-planes.ts';
import { readShownSize, type ShownPicture } from './shown-picture.ts';
import { readPlace, readTones, type Tones } from './read-tones.ts';
import { createTablePainter, type TablePainter } from './table-painter.ts';
import type { TableAnswer, TableRequest } from './table.worker.ts';

export interface PreviewOptions {
  readonly shown: Readonly<Ref<ShownPicture | null>>;
  /** A frame on screen in its place while it is on its way there, and as it was decoded; else null. */
  readonly still: ComputedRef<{ picture: HTMLCanvasElement | null; frame: VideoFrame } | null>;
  readonly canvas: Readonly<Ref<HTMLCanvasElement | null>>;
  readonly settings: ComputedRef<ColorSettings | null>;
  /** How its lamp is evened out before that; null where it is not. */
  readonly light: ComputedRef<EvenLight | null>;
  /** Factor by which its lens bent what is straight; 0 where it did not. */
  readonly lens: ComputedRef<number>;
  readonly isMarked: Readonly<Ref<boolean>>;
  /** Whether anybody sees the figures: reading them costs a copy of the picture. */
  readonly isRead: Readonly<Ref<boolean>>;
}

/** Longer edge of the picture that figures are read from. */
const READ_EDGE = 240;
const READ_EVERY_MS = 250;
/** Where frames are not told one by one, these have to do. */
const READY_EVENTS = ['seeked', 'canplay', 'timeupdate'] as const;
const canFollow =
  typeof HTMLVideoElement !== 'undefined' && 'requestVideoFrameCallback' in HTMLVideoElement.prototype;

/**
 * Shows a take through the table of its recipe: a photograph, or every frame of a video that is on screen, is
 * drawn once, and again when the table changes. Figures are read a few times a second.
 */
export function useColorPreview(options: PreviewOptions) {
  const { shown, still, canvas, settings, light, lens, isMarked, isRead } = options;
  const readSource = () => still.value?.picture ?? shown.value;
  const gains = computed(() => light.value && mapGains(light.value));
  const table = shallowRef<ColorTable | null>(null);
  const tones = shallowRef<Tones | null>(null);
  /** Whether what is on the canvas is the frame that is on screen, in the colors that are asked for. */
  const isDrawn = ref(false);
  let painter: TablePainter | null = null;
  let painted: HTMLCanvasElement | null = null;
  let worker: Worker | null = null;
  let [asked, isBusy] = [0, false];
  let wanted: ColorSettings | null = null;
  let reading: HTMLCanvasElement | null = null;
  let readAt = 0;
  let readTimer: ReturnType<typeof setTimeout> | null = null;

  function send(next: ColorSettings): void {
    worker ??= startWorker();
    isBusy = true;
    asked += 1;
    const request: TableRequest = { id: asked, settings: JSON.parse(JSON.stringify(next)) as ColorSettings };
    worker.postMessage(request);
  }
  function startWorker(): Worker {
    const started = new Worker(new URL('./table.worker.ts', import.meta.url), { type: 'module' });
    started.onmessage = ({ data }: MessageEvent<TableAnswer>) => {
      isBusy = false;
      if (settings.value || light.value || lens.value !== 0)
        table.value = { edge: data.edge, values: data.values };
      const next = wanted;
      wanted = null;
      if (next) send(next);
    };
    return started;
  }
  watch(
    [settings, () => light.value !== null || lens.value !== 0],
    ([own, isDrawnAnyway]) => {
      const next = own && !isPlainColor(own) ? own : isDrawnAnyway ? createPlainColor() : null;
      if (!next) {
        table.value = null;
        wanted = null;
      } else if (isBusy) wanted = next;
      else send(next);
    },
    { immediate: true },
  );
  watch([table, gains, lens, isMarked, canvas, isRead, still], draw, { flush: 'post' });

  let [isDrawing, isWanted] = [false, false];
  /** Draws what is on screen; what is asked for meanwhile is drawn right after. */
  function draw(): void {
    scheduleReading();
    isWanted = true;
    if (!isDrawing) void drawAll();
  }
  async function drawAll(): Promise<void> {
    isDrawing = true;
    try {
      while (isWanted) {
        isWanted = false;
        await drawOnce();
      }
    } finally {
      isDrawing = false;
    }
  }
  async function drawOnce(): Promise<void> {
    const [source, target] = [readSource(), canvas.value];
    const size = source && readShownSize(source);
    if (!source || !size || !target || !table.value) return;
    if (painted !== target) {
      painter?.close();
      painter = createTablePainter(target);
      painted = target;
      loaded = null;
    }
    const coded = still.value?.frame ?? (source instanceof HTMLVideoElement ? source : null);
    const planes = painter?.wantsPlanes && coded ? await readPlanes(coded) : null;
    const own = table.value;
    if (!own || readSource() !== source || canvas.value !== target) return;
    if (target.width !== size.widthPx) target.width = size.widthPx;
    if (target.height !== size.heightPx) target.height = size.heightPx;
    if (loaded !== own) painter?.setTable(own);
    if (loaded === null || lit !== gains.value) painter?.setGains(gains.value);
    [loaded, lit] = [own, gains.value];
    painter?.draw(planes ?? source, { isMarked: isMarked.value, lens: lens.value });
    isDrawn.value = true;
  }
  let loaded: ColorTable | null = null;
  let lit: typeof gains.value = null;

  let [callback, followed] = [0, null as HTMLVideoElement | null];
  const leave = () => {
    if (followed && canFollow) followed.cancelVideoFrameCallback(callback);
    for (const event of READY_EVENTS) followed?.removeEventListener(event, draw);
  };
  const follow = () => {
    draw();
    callback = followed?.requestVideoFrameCallback(follow) ?? 0;
  };
  watch(
    shown,
    (next) => {
      leave();
      isDrawn.value = false;
      followed = next instanceof HTMLVideoElement ? next : null;
      if (followed && canFollow) callback = followed.requestVideoFrameCallback(follow);
      // A frame can be called before its data are there: it is drawn once they are.
      for (const event of READY_EVENTS) followed?.addEventListener(event, draw);
      draw();
    },
    { immediate: true },
  );

  function scheduleReading(): void {
    if (readTimer !== null || !isRead.value) return;
    readTimer = setTimeout(
      () => {
        readTimer = null;
        readAt = performance.now();
        const pixels = readPixels();
        if (pixels) tones.value = readTones(pixels.data, table.value);
      },
      Math.max(0, READ_EVERY_MS - (performance.now() - readAt)),
    );
  }
  function readPixels(): ImageData | null {
    const source = readSource();
    const size = source && readShownSize(source);
    if (!source || !size) return null;
    reading ??= document.createElement('canvas');
    const scale = READ_EDGE / Math.max(size.widthPx, size.heightPx);
    reading.width = Math.max(1, Math.round(size.widthPx * scale));
    reading.height = Math.max(1, Math.round(size.heightPx * scale));
    const context = reading.getContext('2d', { willReadFrequently: true });
    if (!context) return null;
    context.drawImage(source, 0, 0, reading.width, reading.height);
    const pixels = context.getImageData(0, 0, reading.width, reading.height);
    const read = { widthPx: reading.width, heightPx: reading.height };
    if (gains.value) pixels.data.set(evenPicture(pixels.data, read, gains.value, 4));
    return pixels;
  }
  onScopeDispose(() => {
    leave();
    if (readTimer !== null) clearTimeout(readTimer);
    worker?.terminate();
    painter?.close();
  });

  return {
    table,
    tones,
    isDrawn,
    /** R, G, B of the recording about a place of it; null while there is no picture. */
    pick: (x: number, y: number): [number, number, number] | null => {
      const pixels = readPixels();
      return pixels && readPlace(pixels, x, y);
    },
  };
}
