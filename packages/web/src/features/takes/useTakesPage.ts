import { buildNameContext, cleanDisplayName, findWantedName, type TakeView } from '@apodix/core';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { callRoute } from '../../api/call-route.ts';
import { useNotices } from '../../stores/notices.ts';
import { useUploads } from '../../stores/uploads.ts';
import { useWork } from '../../stores/work.ts';
import { describeWork } from '../ledger/build-ledger.ts';
import { searchTakes } from './search-takes.ts';

/** What can be done with the takes of the open assignment. */
export function useTakesPage() {
  const work = useWork();
  const uploads = useUploads();
  const notices = useNotices();
  const router = useRouter();
  const search = ref('');
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
      // One that is still measured is not the chosen one yet: it is only looked at and cut.
      const query = take.facts ? {} : { take: take.id };
      const isOnlyOne = take.isChosen && work.readyTakes.filter((each) => each.isChosen).length === 1;
      if (take.facts && !isOnlyOne) await work.chooseTake(take.id);
      await router.push({ name: 'shape', params: { assignmentId: view.value?.id }, query });
    } catch (error) {
      notices.tellFault(error);
    }
  }
  async function rename(take: TakeView, name: string): Promise<void> {
    try {
      await callRoute('changeTake', { params: { takeId: take.id }, body: { name } });
      await work.reload();
    } catch (error) {
      notices.tellFault(error);
    }
  }
  /** Left and right are exchanged in what is made; the take stays as it is. */
  async function flip(take: TakeView): Promise<void> {
    if (!take.recipe) return;
    const { recipe, version } = take.recipe;
    const picture = { ...recipe.picture, isMirrored: !recipe.picture.isMirrored };
    await work.saveRecipe(take.id, { ...recipe, picture }, version).catch(notices.tellFault);
  }
  return {
    view,
    search,
    found: computed(() => searchTakes(work.takes, search.value)),
    wantedName: computed(() =>
      view.value ? findWantedName(view.value.limits, buildNameContext(describeWork(view.value))) : null,
    ),
    sending: computed(() => uploads.items.filter((item) => item.assignmentId === view.value?.id)),
    bringIn,
    shape,
    nameOf,
    rename,
    flip,
    remove: (take: TakeView) => work.removeTake(take.id, nameOf(take)).catch(notices.tellFault),
    leave: (take: TakeView) => work.leaveTake(take.id).catch(notices.tellFault),
    stop: async (take: TakeView) => {
      const job = work.findJob(take.id, 'inspect');
      if (job) await work.cancel(job.id).catch(notices.tellFault);
    },
  };
}
