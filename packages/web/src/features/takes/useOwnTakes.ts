import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { queryClient, queryKeys } from '../../api/query-client.ts';

/** All takes of the person, whatever they serve, with the room that they take. */
export function useOwnTakes() {
  const query = useQuery(
    { queryKey: queryKeys.takes, queryFn: ({ signal }) => callRoute('listTakes', { signal }) },
    queryClient,
  );
  return {
    takes: computed(() => query.data.value?.takes ?? []),
    room: computed(() => query.data.value ?? null),
    isLoaded: computed(() => query.data.value !== undefined),
    fault: computed(() => (query.isError.value && !query.data.value ? query.error.value : null)),
    readAgain: () => query.refetch(),
  };
}
