import { cleanDisplayName, type TakeView } from '@apodix/core';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { useNotices } from '../../stores/notices.ts';
import { useUploads } from '../../stores/uploads.ts';
import { useWork } from '../../stores/work.ts';

/** What can be done with the takes of the open assignment. */
export function useTakesPage() {
  const work = useWork();
  const uploads = useUploads();
  const notices = useNotices();
  const router = useRouter();
  const view = computed(() => work.assignment);
  const nameOf = (take: Pick<TakeView, 'name'>) => cleanDisplayName(take.name, 40);

  function bringIn(files: readonly File[]): void {
    if (!view.value) return;
    for (const file of files)
      if (file.size === 0) tellEmpty(file);
      else uploads.add(view.value.id, file);
  }
  function tellEmpty(file: File): void {
    notices.add(
      `${cleanDisplayName(file.name, 40)} has nothing in it: 0 bytes.`,
      'Copy it from the phone or camera again.',
      true,
    );
  }
  async function shape(take: TakeView): Promise<void> {
    try {
      const isOnlyOne = take.isChosen && work.readyTakes.filter((each) => each.isChosen).length === 1;
      if (!isOnlyOne) await work.chooseTake(take.id);
      await router.push({ name: 'shape', params: { assignmentId: view.value?.id } });
    } catch (error) {
      notices.tellFault(error);
    }
  }
  return {
    view,
    sending: computed(() => uploads.items.filter((item) => item.assignmentId === view.value?.id)),
    bringIn,
    shape,
    nameOf,
    remove: (take: TakeView) => work.removeTake(take.id, nameOf(take)).catch(notices.tellFault),
    leave: (take: TakeView) => work.leaveTake(take.id).catch(notices.tellFault),
    stop: async (take: TakeView) => {
      const job = work.findJob(take.id, 'inspect');
      if (job) await work.cancel(job.id).catch(notices.tellFault);
    },
  };
}
