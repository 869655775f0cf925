import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { isNotHere, queryClient, queryKeys } from '../../api/query-client.ts';

const SHORT_NAME_DIGITS = 16;

/** One receipt, with the short name of the key that it was signed with. */
export function useReceipt(receiptId: string) {
  const query = useQuery(
    {
      queryKey: queryKeys.receipt(receiptId),
      queryFn: ({ signal }) => callRoute('readReceipt', { params: { receiptId }, signal }),
      // A receipt never changes.
      staleTime: Infinity,
    },
    queryClient,
  );
  const receipt = computed(() => query.data.value ?? null);
  const keyName = ref<string | null>(null);
  watch(receipt, async (next) => (keyName.value = next ? await nameKey(next.signature.publicKey) : null), {
    immediate: true,
  });
  return {
    receipt,
    keyName,
    isMissing: computed(() => query.isError.value && isNotHere(query.error.value)),
    fault: computed(() => (query.isError.value && !query.data.value ? query.error.value : null)),
    readAgain: () => query.refetch(),
  };
}

/** First digits of the SHA-256 of a key; null where the browser computes none (a page without TLS). */
async function nameKey(publicKey: string): Promise<string | null> {
  if (!('subtle' in crypto)) return null;
  const der = Uint8Array.from(atob(publicKey), (character) => character.charCodeAt(0));
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', der));
  const digits = [...digest].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  return digits.slice(0, SHORT_NAME_DIGITS).match(/.{4}/g)?.join(' ') ?? null;
}
