import {
  DeliveryCancel,
  DeliveryInput,
  KeyedLock,
  SiteCheck,
  SiteFault,
  SiteFeedback,
  type Announcement,
  type DeliveryView,
} from '@apodix/core';
import express, {
  type Express,
  type NextFunction,
  type Request,
  type RequestHandler,
  type Response,
} from 'express';
import { setTimeout as wait } from 'node:timers/promises';
import { z } from 'zod';
import type { Access, Caller } from './access.ts';
import { nameOfKey, type FolderStore, type StoredDelivery } from './store.ts';

export interface SiteOptions {
  readonly store: FolderStore;
  readonly access: Access;
  readonly siteName: string;
  /** The most that one delivered file may have. */
  readonly maxFileBytes: number;
  readonly acceptedTypes: readonly string[];
  readonly delayMs: number;
  readonly readNow: () => Date;
}

const SignIn = z.object({ name: z.string().max(200), password: z.string().max(200) });
const GUESS_MS = 300;
/** The status that a reader of bodies gives its faults; anything else is the site's own. */
const readStatus = (error: unknown) => z.object({ status: z.int() }).safeParse(error).data?.status ?? 500;
const readCaller = (response: Response) => response.locals.caller as Caller;

/**
 * The course site's HTTP API as a stand-in: announces assignments, takes resumable deliveries, computes its
 * own digests, and shows the faults that it was told to. Documented in docs/course-site.md.
 */
export function createCourseSite(options: SiteOptions): Express {
  const { store, access } = options;
  const app = express();
  /** What changes a delivery happens one after another: parts may be sent twice at once. */
  const lock = new KeyedLock();
  type Work = (request: Request, response: Response) => Promise<unknown>;
  const alone = (work: Work) => async (request: Request, response: Response) => {
    await lock.run(String(request.params.deliveryId), () => work(request, response));
  };
  let fault: SiteFault = { mode: 'none', times: 1 };
  const takeFault = (...modes: SiteFault['mode'][]) => {
    if (!modes.includes(fault.mode)) return null;
    const { mode } = fault;
    fault = fault.times > 1 ? { mode, times: fault.times - 1 } : { mode: 'none', times: 1 };
    return mode;
  };
  const findDelivery = async (request: Request, response: Response) => {
    const found = await store.read(String(request.params.deliveryId));
    const caller = readCaller(response);
    const isTheirs = caller.kind === 'teacher' || (found?.connection ?? caller.name) === caller.name;
    const delivery = isTheirs ? found : null;
    if (!delivery) response.status(404).json({ reason: 'There is no such delivery.' });
    return delivery;
  };
  const readIndex = (request: Request, delivery: StoredDelivery) => {
    const index = Number(request.params.index);
    return Number.isInteger(index) && delivery.input?.files[index] ? index : null;
  };
  const view = async (delivery: StoredDelivery): Promise<DeliveryView> => ({
    deliveryId: delivery.id,
    state: delivery.state,
    reason: delivery.reason,
    receivedAt: delivery.receivedAt,
    isLate: delivery.isLate,
    feedback: delivery.feedback,
    check: delivery.check ?? 'none',
    answers: delivery.input?.answers ?? [],
    files: await Promise.all(
      (delivery.input?.files ?? []).map(async (file, index) => ({
        fileName: file.fileName,
        sizeBytes: file.sizeBytes,
        offset: await store.measureOffset(delivery.id, index),
        sha256: delivery.sha256[index] ?? null,
      })),
    ),
  });

  app.disable('x-powered-by');
  app.get('/api/health', (_request, response) => void response.json({ isReady: true }));
  app.post('/api/session', express.json({ limit: '2kb' }), async (request, response) => {
    const parsed = SignIn.safeParse(request.body);
    const token = parsed.success ? access.signIn(parsed.data.name, parsed.data.password) : null;
    // Guessing is slow, whoever guesses.
    if (token === null) await lock.run('sign-in', () => wait(GUESS_MS));
    if (token === null) return void response.status(401).json({ reason: 'Name or password is wrong.' });
    response.json({ token });
  });
  app.use((request, response, next) => {
    const caller = access.find(request.get('authorization'));
    if (!caller) return void response.status(401).json({ reason: 'This site does not know who calls.' });
    response.locals.caller = caller;
    next();
  });
  /** Lets one kind of caller on, and nobody else. */
  const only =
    (kind: Caller['kind']): RequestHandler =>
    (_request, response, next) => {
      if (readCaller(response).kind === kind) next();
      else response.status(403).json({ reason: `Only a ${kind} may do this.` });
    };
  app.get(
    '/api/assignments',
    async (_request, response) =>
      void response.json({ siteName: options.siteName, assignments: await store.readAnnouncements() }),
  );
  app.put('/api/fault', only('teacher'), express.json(), (request, response) => {
    const parsed = SiteFault.safeParse(request.body);
    if (!parsed.success) return void response.status(400).json({ reason: 'Unknown fault.' });
    fault = parsed.data;
    response.json(fault);
  });

  app.post(
    '/api/deliveries',
    only('connection'),
    express.json({ limit: '200kb' }),
    async (request, response) => {
      if (takeFault('unavailable'))
        return void response.status(503).set('retry-after', '1').json({ reason: 'Closed for a moment.' });
      const parsed = DeliveryInput.safeParse(request.body);
      if (!parsed.success)
        return void response
          .status(400)
          .json({ reason: 'The delivery does not have the form that is needed.' });
      if (takeFault('busy'))
        return void response.status(429).set('retry-after', '1').json({ reason: 'Too much at once.' });
      if (parsed.data.files.length + parsed.data.answers.length === 0)
        return void response.status(400).json({ reason: 'There is nothing in it.' });
      const { name } = readCaller(response);
      await lock.run(nameOfKey(name, parsed.data.key), () => open(name, parsed.data, response));
    },
  );
  const open = async (connection: string, input: DeliveryInput, response: Response) => {
    const existing = await store.findByKey(connection, input.key);
    if (existing) return void response.json(await view(existing));
    if (takeFault('duplicate'))
      return void response.status(409).json({ reason: 'This was handed in before.' });
    const isTooLarge = input.files.some((file) => file.sizeBytes > options.maxFileBytes);
    if (takeFault('too-large') ?? isTooLarge)
      return void response.status(413).json({ reason: 'A file is larger than this site takes.' });
    const isWrongType = input.files.some((file) => !options.acceptedTypes.includes(file.mimeType));
    if (takeFault('wrong-type') ?? isWrongType)
      return void response.status(415).json({ reason: 'A file has a type that this site does not take.' });
    response.status(201).json(await view(await store.create(connection, input)));
  };
  app.post(
    '/api/deliveries/cancel',
    only('connection'),
    express.json({ limit: '10kb' }),
    async (request, response) => {
      if (takeFault('unavailable'))
        return void response.status(503).set('retry-after', '1').json({ reason: 'Closed for a moment.' });
      const parsed = DeliveryCancel.safeParse(request.body);
      if (!parsed.success) return void response.status(400).json({ reason: 'A key is needed.' });
      const { key } = parsed.data;
      const { name } = readCaller(response);
      const cancelled = await lock.run(nameOfKey(name, key), () => store.cancel(name, key));
      response.json(await view(cancelled));
    },
  );

  app.get(
    '/api/deliveries',
    only('teacher'),
    async (_request, response) =>
      void response.json({ deliveries: await Promise.all((await store.list()).map(view)) }),
  );
  app.get('/api/deliveries/:deliveryId', async (request, response) => {
    const delivery = await findDelivery(request, response);
    if (delivery) response.json(await view(delivery));
  });
  app.put(
    '/api/deliveries/:deliveryId/feedback',
    only('teacher'),
    express.json({ limit: '50kb' }),
    alone(async (request, response) => {
      const delivery = await findDelivery(request, response);
      if (!delivery) return;
      const parsed = SiteFeedback.omit({ at: true }).safeParse(request.body);
      if (!parsed.success || delivery.state !== 'received')
        return void response.status(400).json({ reason: 'Feedback belongs to a received delivery.' });
      delivery.feedback = { ...parsed.data, at: options.readNow().toISOString() };
      await store.write(delivery);
      response.json(await view(delivery));
    }),
  );
  app.put(
    '/api/deliveries/:deliveryId/check',
    only('teacher'),
    express.json({ limit: '2kb' }),
    alone(async (request, response) => {
      const delivery = await findDelivery(request, response);
      if (!delivery) return;
      const parsed = SiteCheck.safeParse(request.body);
      if (!parsed.success || delivery.state !== 'received')
        return void response.status(400).json({ reason: 'Only what was received can be checked.' });
      delivery.check = parsed.data.check;
      await store.write(delivery);
      response.json(await view(delivery));
    }),
  );
  app.post(
    '/api/deliveries/:deliveryId/take-back',
    only('connection'),
    alone(async (request, response) => {
      if (takeFault('unavailable'))
        return void response.status(503).set('retry-after', '1').json({ reason: 'Closed for a moment.' });
      const delivery = await findDelivery(request, response);
      if (!delivery) return;
      const isUntouched = (delivery.check ?? 'none') === 'none' && delivery.feedback === null;
      if (delivery.state === 'received' && isUntouched) {
        delivery.state = 'taken-back';
        await store.write(delivery);
      }
      if (takeFault('lost-answer')) return void request.socket.destroy();
      response.status(delivery.state === 'taken-back' ? 200 : 409).json(await view(delivery));
    }),
  );
  app.get('/api/deliveries/:deliveryId/files/:index', only('teacher'), async (request, response) => {
    const delivery = await findDelivery(request, response);
    if (!delivery) return;
    const index = readIndex(request, delivery);
    if (index === null || delivery.state !== 'received')
      return void response.status(404).json({ reason: 'There is no such file.' });
    response
      .type(delivery.input?.files[index]?.mimeType ?? 'application/octet-stream')
      .set('x-content-type-options', 'nosniff');
    response.sendFile(store.pathOfFile(delivery.id, index), { dotfiles: 'allow' });
  });

  app.patch(
    '/api/deliveries/:deliveryId/files/:index',
    only('connection'),
    alone(async (request, response) => {
      const delivery = await findDelivery(request, response);
      if (!delivery) return;
      const index = readIndex(request, delivery);
      const file = index === null ? undefined : delivery.input?.files[index];
      if (index === null || !file)
        return void response.status(404).json({ reason: 'There is no such file.' });
      if (delivery.state !== 'open')
        return void response.status(409).json({ reason: 'This delivery is closed.' });
      if (takeFault('unavailable'))
        return void response.status(503).set('retry-after', '1').json({ reason: 'Closed for a moment.' });
      const offset = await store.measureOffset(delivery.id, index);
      if (Number(request.get('upload-offset')) !== offset)
        return void response.status(409).json({ reason: 'Go on from the offset that is told.', offset });
      if (fault.mode === 'slow') await wait(takeFault('slow') ? 3000 : 0);
      const isCutOff = takeFault('cut-off') !== null;
      const reached = await store.append(
        delivery.id,
        index,
        request,
        file.sizeBytes,
        isCutOff ? offset + Math.floor((file.sizeBytes - offset) / 2) : Infinity,
      );
      if (isCutOff) return void request.socket.destroy();
      response.status(200).json({ offset: reached });
    }),
  );

  app.post(
    '/api/deliveries/:deliveryId/complete',
    only('connection'),
    alone(async (request, response) => {
      const delivery = await findDelivery(request, response);
      if (!delivery) return;
      const { input } = delivery;
      if (delivery.state !== 'open' || !input) {
        if (takeFault('lost-answer')) return void request.socket.destroy();
        return void response.json(await view(delivery));
      }
      if (takeFault('unavailable'))
        return void response.status(503).set('retry-after', '1').json({ reason: 'Closed for a moment.' });
      await wait(options.delayMs);
      for (const [index, file] of input.files.entries()) {
        if ((await store.measureOffset(delivery.id, index)) !== file.sizeBytes)
          return void response.status(409).json({ reason: `${file.fileName} is not complete.` });
        const sha256 = await store.hash(delivery.id, index);
        if (sha256 !== file.sha256) {
          await store.drop(delivery.id, index);
          return void response
            .status(409)
            .json({ reason: `${file.fileName} arrived damaged. Send it again.` });
        }
        delivery.sha256[index] = sha256;
      }
      const assignment = (await store.readAnnouncements()).find((each) => each.id === input.assignmentId);
      const now = options.readNow();
      delivery.isLate = takeFault('late') !== null || isPast(assignment, input.group, now);
      if (delivery.isLate && assignment && !assignment.isLateAllowed) {
        delivery.state = 'refused';
        delivery.reason = 'The due time has passed, and this assignment takes nothing late.';
      } else {
        delivery.state = 'received';
        delivery.receivedAt = now.toISOString();
      }
      await store.write(delivery);
      if (takeFault('lost-answer')) return void request.socket.destroy();
      response.status(delivery.state === 'received' ? 200 : 422).json(await view(delivery));
    }),
  );
  app.use((_request, response) => void response.status(404).json({ reason: 'There is nothing here.' }));
  app.use((error: unknown, request: Request, response: Response, _next: NextFunction) => {
    // A line that was cut has nobody left to be told.
    if (request.destroyed || response.headersSent) return void response.destroy();
    const status = readStatus(error);
    if (status >= 500) process.stderr.write(`${String(error)}\n`);
    response
      .status(status)
      .json({ reason: status >= 500 ? 'Something went wrong here.' : 'This cannot be read.' });
  });
  return app;
}

/** Whether the due time has passed, for the group of the person where groups differ. */
function isPast(assignment: Announcement | undefined, group: string | null, now: Date): boolean {
  const own = assignment?.dueByGroup.find((each) => each.group === group);
  const dueAt = own?.dueAt ?? assignment?.dueAt ?? null;
  return dueAt !== null && now > new Date(dueAt);
}
