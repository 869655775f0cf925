import {
  composeAffine,
  flatSize,
  invertAffine,
  mapSteady,
  mapToSource,
  measureBars,
  readBarLevel,
  type Framing,
  type Quad,
  type Recipe,
  type SteadyCourse,
  type TakeView,
} from '@apodix/core';
import { computed, type Ref } from 'vue';
import { placePicture, writeMatrix } from './place-picture.ts';

const MARGIN_PX = 32;
const LEAST_PX = 80;
const AS_RECORDED: Framing = { turnDegrees: 0, isMirrored: false, straightenDegrees: 0, crop: null };

/** Where the picture of a take lies on its surround, and how it is moved there. */
export function useStagePlacement(
  props: Readonly<{
    take: TakeView;
    recipe: Recipe;
    isBefore: boolean;
    isCropping: boolean;
    /** Corners that are set, on the whole photograph; null where none are. */
    corners: Quad | null;
    frameIndex: number | null;
    steady: SteadyCourse | null;
  }>,
  stage: { readonly width: Ref<number>; readonly height: Ref<number> },
) {
  const size = computed(
    () => props.take.facts?.video ?? props.take.draft?.video ?? props.take.facts?.photo ?? null,
  );
  const framing = computed<Framing & Pick<Recipe['picture'], 'flatten'>>(() => {
    if (props.isBefore || props.corners !== null) return { ...AS_RECORDED, flatten: null };
    const { picture } = props.recipe;
    return props.isCropping ? { ...picture, crop: null, barsTo: null, border: 0 } : picture;
  });
  const placed = computed(() => {
    if (!size.value) return null;
    const box = {
      widthPx: Math.max(LEAST_PX, stage.width.value - MARGIN_PX),
      heightPx: Math.max(LEAST_PX, stage.height.value - MARGIN_PX),
    };
    return placePicture(size.value, box, framing.value);
  });
  const px = ({ widthPx, heightPx }: { widthPx: number; heightPx: number }) => ({
    width: `${widthPx}px`,
    height: `${heightPx}px`,
  });
  /** The frame on screen, where it is moved to stand calm. */
  const calm = computed(() =>
    props.steady && !props.isBefore && props.frameIndex !== null
      ? { course: props.steady, frame: props.frameIndex }
      : null,
  );
  const guestStyle = computed(() =>
    placed.value ? { ...px(placed.value.elementPx), transform: placed.value.transform } : {},
  );
  const bars = computed(() =>
    size.value ? measureBars(flatSize(size.value, framing.value.flatten), framing.value) : { x: 0, y: 0 },
  );
  return {
    size,
    placed,
    windowStyle: computed(() => (placed.value ? px(placed.value.windowPx) : {})),
    /** Of the take itself. */
    style: computed(() => {
      if (!placed.value || !calm.value) return guestStyle.value;
      const { elementPx, transform } = placed.value;
      const moved = invertAffine(mapSteady(calm.value.course, calm.value.frame, elementPx));
      return { ...px(elementPx), transform: `${transform} ${writeMatrix(moved)}` };
    }),
    /** Of other takes, which are never steadied. */
    guestStyle,
    bars,
    barStyle: computed(() => ({
      borderColor: readBarLevel(framing.value) > 0 ? '#fff' : '#000',
      borderWidth: `${bars.value.y * (placed.value?.windowPx.heightPx ?? 0)}px ${
        bars.value.x * (placed.value?.windowPx.widthPx ?? 0)
      }px`,
    })),
    /** From shares of what is seen to points of the recording. */
    sourceMap: computed(() => {
      if (!size.value) return null;
      const framed = mapToSource(size.value, framing.value);
      if (!calm.value) return framed;
      return composeAffine(framed, mapSteady(calm.value.course, calm.value.frame, size.value));
    }),
  };
}
