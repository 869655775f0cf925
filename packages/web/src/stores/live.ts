import type { JobView, Person } from '@apodix/core';
import { defineStore } from 'pinia';
import { readonly, ref } from 'vue';
import { findBrowserTools, openLiveLine } from '../api/live-line.ts';
import { queryClient, queryKeys } from '../api/query-client.ts';

const isOpen = (job: JobView) => job.state === 'waiting' || job.state === 'running';

/** The jobs of the person as the event stream tells them; what else it tells is read anew. */
export const useLive = defineStore('live', () => {
  const jobs = ref<Readonly<Record<string, JobView>>>({});
  let close: (() => void) | null = null;

  function accept(told: readonly JobView[]): void {
    jobs.value = { ...jobs.value, ...Object.fromEntries(told.map((job) => [job.id, job])) };
  }
  /** What is open on an assignment is just what a view tells: what ended unheard is open no more. */
  function settle(assignmentId: string, told: readonly JobView[]): void {
    const isGone = (job: JobView) =>
      job.assignmentId === assignmentId && isOpen(job) && !told.some((each) => each.id === job.id);
    const kept = Object.entries(jobs.value).filter(([, job]) => !isGone(job));
    jobs.value = Object.fromEntries([...kept, ...told.map((job) => [job.id, job] as const)]);
  }
  /** Every tab of a person calls it; it is done once. */
  function follow({ id }: Pick<Person, 'id'>): void {
    close ??= openLiveLine(
      {
        onOpen: () => void queryClient.invalidateQueries(),
        onEvent: (event) => {
          if (event.type === 'takes') void queryClient.invalidateQueries({ queryKey: queryKeys.takes });
          else if (event.type === 'work') readAnew(event.assignmentId);
          else {
            accept([event.job]);
            if (!isOpen(event.job)) readAnew(event.job.assignmentId);
          }
        },
      },
      findBrowserTools(id),
    );
  }
  function readAnew(assignmentId: string | null): void {
    if (assignmentId !== null)
      void queryClient.invalidateQueries({ queryKey: queryKeys.assignment(assignmentId) });
    void queryClient.invalidateQueries({ queryKey: queryKeys.today });
  }
  function leave(): void {
    close?.();
    close = null;
    jobs.value = {};
  }
  return { jobs: readonly(jobs), accept, settle, follow, leave };
});
