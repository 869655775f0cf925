import { computed, nextTick, ref } from 'vue';
import { useSession } from '../../stores/session.ts';
import { useWork } from '../../stores/work.ts';
import { openPieceStore } from '../capture/pieces/open-piece-store.ts';
import { useKeptRecordings } from '../capture/pieces/useKeptRecordings.ts';
import type { CaptureTask } from '../capture/useCameraStage.ts';

/** The camera of the Takes page, and what was recorded with it and not sent yet. */
export function useTakesCamera() {
  const work = useWork();
  const session = useSession();
  // Whoever showed a card to the camera finds it on.
  const asked = new URLSearchParams(window.location.search).get('camera');
  const camera = ref<'off' | 'on' | 'practice'>(asked === 'on' || asked === 'practice' ? asked : 'off');
  const kept = useKeptRecordings(
    openPieceStore(),
    () => session.person?.id ?? '',
    () => work.assignment?.id ?? null,
    () => null,
  );
  const task = computed((): CaptureTask => {
    const view = work.assignment;
    return {
      ownerId: session.person?.id ?? '',
      assignmentId: view?.id ?? null,
      subject: view?.subject ?? '',
      limits: view?.limits ?? [],
      slots: view?.slots ?? [],
      title: view?.title ?? 'Recording',
      nextNumber: work.takes.length + kept.all.value.length + 1,
    };
  });
  /** Shows what was just recorded, in place of the camera. */
  async function review(id: string): Promise<void> {
    await kept.readAgain();
    await nextTick();
    camera.value = 'off';
    kept.show(kept.all.value.find((each) => each.id === id) ?? null);
  }
  return {
    camera,
    task,
    kept,
    review,
    open: (isPractice = false) => {
      kept.show(null);
      camera.value = isPractice ? 'practice' : 'on';
    },
    close: () => (camera.value = 'off'),
  };
}
