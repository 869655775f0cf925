import {
  convertPatchToLight,
  createPlainColor,
  describeFit,
  evenPatches,
  fitTarget,
  isConvex,
  isPlainColor,
  readPatchValues,
  readTarget,
  USUAL_PATCHES,
  type ColorSettings,
  type LabTriple,
  type Quad,
  type RgbPicture,
  type TakeView,
} from '@apodix/core';
import { computed, ref, shallowRef, watch, type ComputedRef } from 'vue';
import { useNotices } from '../../../stores/notices.ts';
import type { RecipeEditor } from '../useRecipeEditor.ts';

/** Where its corners begin if none was found. */
const FIRST: Quad = [
  { x: 0.6, y: 0.62 },
  { x: 0.9, y: 0.62 },
  { x: 0.9, y: 0.86 },
  { x: 0.6, y: 0.86 },
];
const MOST_VALUES_BYTES = 200_000;

/** A color target in a photograph: found or set by its corners, and what it does to all colors. */
export function useTarget(editor: RecipeEditor, take: ComputedRef<TakeView | null>) {
  const notices = useNotices();
  const isSetting = ref(false);
  const isShown = ref(false);
  const seen = computed(() => take.value?.facts?.photo?.target ?? null);
  /** Set by hand, of the take that is on screen. */
  const own = shallowRef<{ readonly corners: Quad; readonly patches: ReturnType<typeof readTarget> } | null>(
    null,
  );
  const values = shallowRef<readonly LabTriple[]>(USUAL_PATCHES);
  const valuesName = ref<string | null>(null);
  const target = computed(() => own.value ?? seen.value);
  const fit = computed(() => {
    if (!target.value) return null;
    const { patches, corners } = target.value;
    return fitTarget(evenPatches(patches, corners, editor.recipe.value.picture.light), values.value);
  });
  const color = computed(() => editor.recipe.value.picture.color);
  /** What of colors a target tells: the light they were seen in, and how bright they are. */
  const pickTold = ({ mix, white, exposure }: ColorSettings) => ({ mix, white, exposure });
  const isUsed = computed(() => {
    const [own, wanted] = [color.value, fit.value?.settings];
    if (!own || !wanted) return Boolean(own?.mix);
    return JSON.stringify(pickTold(own)) === JSON.stringify(pickTold(wanted));
  });
  /** Everything else that was chosen of colors stays. */
  const setTold = (told: ReturnType<typeof pickTold>) => {
    const next = { ...(color.value ?? createPlainColor()), ...told };
    const { recipe } = editor;
    const picture = { ...recipe.value.picture, color: isPlainColor(next) ? null : next };
    editor.change({ ...recipe.value, picture });
  };
  watch(
    () => take.value?.id,
    () => {
      own.value = null;
      isSetting.value = false;
    },
  );
  return {
    isPossible: computed(() => Boolean(take.value?.facts?.photo)),
    target,
    fit,
    isUsed,
    isSetting,
    isShown,
    valuesName,
    corners: computed<Quad>(() => target.value?.corners ?? FIRST),
    lines: computed(() => (fit.value ? describeFit(fit.value) : [])),
    wanted: computed(() => values.value.map(convertPatchToLight)),
    use: () => fit.value && setTold(pickTold(fit.value.settings)),
    leave: () => setTold(pickTold(createPlainColor())),
    /** Reads its patches anew where its corners were set, from the photograph as it is on screen. */
    move: (corners: Quad, picture: RgbPicture | null) => {
      if (picture && isConvex(corners)) own.value = { corners, patches: readTarget(picture, corners) };
    },
    /** Values of somebody's own target take the place of the published ones. */
    bringValues: async (file: File) => {
      try {
        if (file.size > MOST_VALUES_BYTES) throw new RangeError('It is too large for 24 patches.');
        values.value = readPatchValues(await file.text());
        valuesName.value = file.name;
      } catch (error) {
        const why = error instanceof RangeError ? error.message : 'The file could not be read.';
        notices.add(`${file.name} cannot be used.`, why, true);
      }
    },
  };
}
