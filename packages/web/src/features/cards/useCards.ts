import type { CardView, NewCards } from '@apodix/core';
import { useQuery } from '@tanstack/vue-query';
import QRCode from 'qrcode';
import { computed, nextTick, ref, shallowRef } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { queryClient } from '../../api/query-client.ts';
import { useNotices } from '../../stores/notices.ts';

/** Cards of oneself and of those whom one teaches. */
export function useCards() {
  const notices = useNotices();
  const query = useQuery(
    { queryKey: ['cards'], queryFn: ({ signal }) => callRoute('listCards', { signal }) },
    queryClient,
  );
  const people = computed(() => query.data.value?.people ?? []);
  const picked = ref<ReadonlySet<string>>(new Set());
  /** Where there is only one to choose it is chosen. */
  const chosen = computed(() =>
    people.value.length === 1 ? new Set(people.value.map((each) => each.id)) : picked.value,
  );
  const sheet = shallowRef<readonly (NewCards['cards'][number] & { readonly picture: string })[]>([]);

  function toggle(personId: string | null): void {
    const all = new Set(people.value.map((each) => each.id));
    if (personId === null) picked.value = picked.value.size === all.size ? new Set() : all;
    else {
      const next = new Set(picked.value);
      if (!next.delete(personId)) next.add(personId);
      picked.value = next;
    }
  }
  async function make(): Promise<void> {
    try {
      const { cards } = await callRoute('makeCards', { body: { personIds: [...chosen.value] } });
      sheet.value = await Promise.all(
        cards.map(async (each) => ({
          ...each,
          picture: await QRCode.toDataURL(each.code, { width: 300, margin: 3, errorCorrectionLevel: 'Q' }),
        })),
      );
      await query.refetch();
    } catch (error) {
      notices.tellFault(error);
    }
  }
  async function withdraw(card: CardView): Promise<void> {
    try {
      await callRoute('withdrawCard', { params: { cardId: card.id } });
      sheet.value = sheet.value.filter((each) => each.card.id !== card.id);
      await query.refetch();
      notices.add(`The card of ${card.person.displayName} opens nothing any more.`, '');
    } catch (error) {
      notices.tellFault(error);
    }
  }
  return {
    people,
    chosen,
    sheet,
    toggle,
    make,
    withdraw,
    active: computed(() => (query.data.value?.cards ?? []).filter((card) => card.withdrawnAt === null)),
    isLoaded: computed(() => query.data.value !== undefined),
    fault: computed(() => (query.isError.value && !query.data.value ? query.error.value : null)),
    readAgain: () => query.refetch(),
    print: async () => {
      await nextTick();
      window.print();
    },
  };
}
