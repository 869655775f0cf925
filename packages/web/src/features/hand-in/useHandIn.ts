import {
  findMissing,
  findStanding,
  isEveryMustMet,
  isHeld,
  isWrittenSlot,
  readPlanRecipe,
  type MadeView,
  type Slot,
} from '@apodix/core';
import { computed, ref } from 'vue';
import { useNow } from '../../composables/useNow.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { buildLedger, buildParcelRows } from '../ledger/build-ledger.ts';
import { useParcelDraft } from './useParcelDraft.ts';

/** The hand-in of the open assignment: its draft, what is missing, what became of it. */
export function useHandIn() {
  const work = useWork();
  const notices = useNotices();
  const now = useNow();
  const view = computed(() => work.assignment);
  const draft = useParcelDraft(view);
  const isPressed = ref(false);

  const slots = computed(() => view.value?.slots ?? []);
  const items = computed(() =>
    (view.value?.parcel.items ?? []).flatMap((item) => {
      const made = view.value?.made.find((each) => each.id === item.madeId);
      const slot = slots.value.find((each) => each.id === item.slotId);
      return made && slot ? [{ made, slot }] : [];
    }),
  );
  const countIn = (slot: Slot) => items.value.filter((each) => each.slot.id === slot.id).length;
  const job = computed(() => work.activeJobs.find((each) => each.kind === 'deliver') ?? null);
  const standing = computed(() => findStanding(view.value?.handIns ?? []));
  const isReceived = computed(
    () => view.value?.state === 'handed-in' || view.value?.state === 'feedback-back',
  );
  /** What is still to be done, by what stands on the page: nothing has to be kept first. */
  const missing = computed(() => {
    if (!view.value) return [];
    const { answers, text } = draft.parcel.value;
    return findMissing({
      slots: slots.value,
      items: items.value.map(({ made, slot }) => ({
        slotId: slot.id,
        fileName: made.fileName,
        sizeBytes: made.sizeBytes,
        everyMustMet: isEveryMustMet(made.findings),
        sourceSha256: made.sourceSha256,
        likeness: made.facts.likeness,
      })),
      answers,
      text,
      limits: view.value.limits,
    });
  });
  const attemptsLeft = computed(() => {
    const { attemptsAllowed = null, attemptsUsed = 0 } = view.value ?? {};
    return attemptsAllowed === null ? null : attemptsAllowed - attemptsUsed;
  });
  const isWorkThere = computed(() => items.value.length > 0 || slots.value.some(isWrittenSlot));
  const rows = computed(() => {
    if (!view.value) return [];
    const first = items.value[0]?.made ?? null;
    const take = view.value.takes.find((each) => each.id === first?.takeId) ?? work.chosenTake;
    const plan = first ? { plan: first.plan, refusals: [] } : null;
    return [
      ...buildLedger(
        view.value,
        take,
        plan,
        first,
        work.seriesOf(take),
        work.othersOf(first ? readPlanRecipe(first.plan) : null),
      ),
      ...buildParcelRows({ ...view.value, parcel: draft.parcel.value }, true, now.value),
    ];
  });

  /** Made files that are ready for a slot and lie in none. */
  const listFitting = (slot: Slot): MadeView[] =>
    (view.value?.made ?? []).filter(
      (made) =>
        made.facts.kind === slot.item &&
        made.isCurrent &&
        isEveryMustMet(made.findings) &&
        !items.value.some((each) => each.made.id === made.id),
    );
  const putIn = (slot: Slot, made: MadeView) =>
    draft.save([...(view.value?.parcel.items ?? []), { slotId: slot.id, madeId: made.id }]);
  async function takeOut(made: MadeView): Promise<void> {
    const before = view.value?.parcel.items ?? [];
    if (await draft.save(before.filter((each) => each.madeId !== made.id)))
      notices.addWithUndo(`${made.fileName} is out of the parcel.`, () => draft.save(before));
  }
  async function tell(doing: () => Promise<unknown>): Promise<void> {
    isPressed.value = true;
    try {
      await doing();
    } catch (error) {
      notices.tellFault(error);
    } finally {
      isPressed.value = false;
    }
  }
  const handIn = () =>
    tell(async () => {
      if (await draft.save()) await work.handIn();
    });

  return {
    view,
    draft,
    now,
    items,
    job,
    standing,
    isReceived,
    missing,
    attemptsLeft,
    rows,
    isPressed,
    isCourse: computed(() => view.value?.kind === 'course'),
    /** A later attempt that did not go through, whatever stands. */
    failed: computed(() => {
      const [newest] = view.value?.handIns ?? [];
      return newest?.state === 'not-handed-in' ? newest : null;
    }),
    feedback: computed(() => view.value?.handIns.find((each) => each.feedback)?.feedback ?? null),
    openSlots: computed(() =>
      slots.value.filter((slot) => !isWrittenSlot(slot) && countIn(slot) < Math.max(1, slot.min)),
    ),
    writtenSlots: computed(() => slots.value.filter(isWrittenSlot)),
    canHandIn: computed(
      () =>
        missing.value.length === 0 &&
        isWorkThere.value &&
        job.value === null &&
        !isReceived.value &&
        attemptsLeft.value !== 0,
    ),
    canTakeBack: computed(() => ['received', 'by-hand'].includes(standing.value?.state ?? '')),
    canNoteByHand: computed(
      () => job.value === null && !(view.value?.handIns ?? []).some((each) => isHeld(each.state)),
    ),
    countIn,
    listFitting,
    putIn,
    takeOut,
    handIn,
    takeBack: () => tell(work.takeBack),
    noteByHand: (note: string) => tell(() => work.noteByHand(note)),
    rename: (made: MadeView, stem: string) => tell(() => work.renameMade(made.id, stem)),
    stop: () => tell(async () => job.value && work.cancel(job.value.id)),
  };
}
