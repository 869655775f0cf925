import {
  buildColorTable,
  cleanDisplayName,
  isSameRecipe,
  packLook,
  readCube,
  pickGreyCard,
  pickNeutral,
  writeCube,
  createPlainColor,
  type ColorSettings,
  type TakeView,
} from '@apodix/core';
import { computed, ref, type ComputedRef } from 'vue';
import { saveText } from '../../../composables/save-text.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useWork } from '../../../stores/work.ts';
import { matchPhotographs } from './match-photographs.ts';
import { matchTakes } from './match-takes.ts';
import type { RecipeEditor } from '../useRecipeEditor.ts';

/** What tells how a take looks: small pictures of a film, a photograph itself; null for sound. */
const findLook = ({ kind, facts, stripUrl, proxyUrl }: TakeView) =>
  kind === 'video' ? stripUrl : facts?.photo ? proxyUrl : null;

/** A table of 65 points along each edge in six decimals takes so much. */
const MOST_CUBE_BYTES = 12_000_000;

/**
 * The colors of the take on screen: settings, what was proposed, and a grey that is picked in the
 * picture.
 */
export function useShapeColor(editor: RecipeEditor, take: ComputedRef<TakeView | null>) {
  const notices = useNotices();
  const work = useWork();
  const isPicking = ref(false);
  /** Whether what is picked is a grey card, which tells the brightness too. */
  const isCard = ref(false);
  const isMarked = ref(false);
  const isSplit = ref(false);
  const settings = computed(() => editor.recipe.value.picture.color);
  const proposed = computed(() => take.value?.proposal?.recipe.picture.color ?? null);
  const isMatching = ref(false);
  /** Other takes whose look this one can follow. */
  const models = computed(() =>
    work.takes
      .filter(
        (each) => each.id !== take.value?.id && each.kind === take.value?.kind && findLook(each) !== null,
      )
      .map((each) => ({ id: each.id, name: cleanDisplayName(each.name, 22) })),
  );
  async function match(takeId: string): Promise<void> {
    const [own, other] = [take.value, work.takes.find((each) => each.id === takeId)];
    if (!own || !other || findLook(own) === null || findLook(other) === null) return;
    isMatching.value = true;
    try {
      const found = await (own.facts?.photo
        ? matchPhotographs(own, editor.recipe.value, other)
        : matchTakes(own, other));
      if (take.value?.id !== own.id) return;
      if (found) change({ ...found, look: settings.value?.look ?? null });
      else notices.add('One of both is too dark to tell its colours.');
    } catch {
      notices.add('The pictures of the other take could not be loaded.', 'Try it again.', true);
    } finally {
      isMatching.value = false;
    }
  }
  const withColor = (color: ColorSettings | null) => ({
    ...editor.recipe.value,
    picture: { ...editor.recipe.value.picture, color },
  });
  const change = (color: ColorSettings | null, isDragging = false) =>
    editor.change(withColor(color), isDragging);

  return {
    settings,
    isPicking,
    isCard,
    isMarked,
    isSplit,
    reasons: computed(() => take.value?.proposal?.colorReasons ?? []),
    isProposed: computed(() => isSameRecipe(withColor(proposed.value), editor.recipe.value)),
    change,
    models,
    isMatching,
    match,
    propose: () => change(proposed.value),
    /** Begins to pick, or leaves it where it is pressed again. */
    startPicking: (isOfCard: boolean) => {
      isPicking.value = !isPicking.value || isCard.value !== isOfCard;
      isCard.value = isOfCard;
    },
    /** Takes the lamp's color from a place of the recording. */
    pick: (rgb: readonly [number, number, number] | null) => {
      isPicking.value = false;
      const own = settings.value ?? createPlainColor();
      if (isCard.value) {
        const found = rgb && pickGreyCard(rgb, own);
        if (!found) return notices.add('No grey card can be read there: it is too dark or too bright.');
        return change(found);
      }
      const light = rgb && pickNeutral(...rgb);
      if (!light) return notices.add('Too dark there to tell a colour: click something brighter.');
      change({ ...own, white: light });
    },
    /** A `.cube` file of somebody else's comes after everything else. */
    bringTable: async (file: File) => {
      try {
        if (file.size > MOST_CUBE_BYTES) throw new RangeError('It is too large for a table of colours.');
        const look = packLook(file.name.replace(/\.cube$/i, ''), readCube(await file.text()));
        change({ ...(settings.value ?? createPlainColor()), look });
      } catch (error) {
        const why = error instanceof RangeError ? error.message : 'The file could not be read.';
        notices.add(`${file.name} cannot be used.`, why, true);
      }
    },
    saveTable: () => {
      if (!settings.value || !take.value) return;
      const stem = take.value.name.replace(/\.[^.]*$/, '');
      saveText(`${stem}.cube`, writeCube(buildColorTable(settings.value), stem), 'text/plain');
    },
  };
}
