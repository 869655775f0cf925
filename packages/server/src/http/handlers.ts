import { accountsRoutes } from '../accounts/accounts-routes.ts';
import { assignmentsRoutes } from '../assignments/assignments-routes.ts';
import { cardsRoutes } from '../cards/cards-routes.ts';
import { papersRoutes } from '../papers/papers-routes.ts';
import { phonesRoutes } from '../phones/phones-routes.ts';
import { calendarRoutes } from '../calendar/calendar-routes.ts';
import { handInRoutes } from '../hand-in/hand-in-routes.ts';
import { makingRoutes } from '../making/making-routes.ts';
import type { Handlers } from '../routing/call.ts';
import { sheetsRoutes } from '../sheets/sheets-routes.ts';
import { takesRoutes } from '../takes/takes-routes.ts';
import { buildOpenApi } from './build-open-api.ts';

/** One handler a route of the contract; each feature brings its own. */
export const handlers: Handlers = {
  ...accountsRoutes,
  ...assignmentsRoutes,
  ...calendarRoutes,
  ...cardsRoutes,
  ...papersRoutes,
  ...phonesRoutes,
  ...handInRoutes,
  ...makingRoutes,
  ...sheetsRoutes,
  ...takesRoutes,
  readApi: () => Promise.resolve(buildOpenApi()),
};
