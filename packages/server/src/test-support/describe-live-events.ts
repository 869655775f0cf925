import type { LiveEvent } from '@apodix/core';
import { expect, it } from 'vitest';
import type { LiveEvents } from '../events/live-events.ts';

/** What every adapter of `LiveEvents` has to do. */
export function describeLiveEvents(open: () => LiveEvents): void {
  it('tells every page of a person, nobody else, and no page that has gone', () => {
    const live = open();
    const heard: Record<string, LiveEvent[]> = { phone: [], laptop: [], bob: [] };
    const leave = live.follow('ann', (event) => heard.phone?.push(event));
    live.follow('ann', (event) => heard.laptop?.push(event));
    live.follow('bob', (event) => heard.bob?.push(event));
    const event: LiveEvent = { type: 'work', assignmentId: 'solo' };
    live.tell('ann', event);
    leave();
    live.tell('ann', event);
    live.tell('nobody', event);
    expect(Object.fromEntries(Object.entries(heard).map(([name, events]) => [name, events.length]))).toEqual({
      phone: 1,
      laptop: 2,
      bob: 0,
    });
  });
}
