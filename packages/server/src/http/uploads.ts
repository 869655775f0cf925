import { ApodixError, UPLOAD_PATH, type MediaKind } from '@apodix/core';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import { randomUUID } from 'node:crypto';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { grant } from '../access/guards.ts';
import { findCaller } from '../access/session.ts';
import { TakeRow } from '../data/models.ts';
import { hashInput } from '../jobs/hash-input.ts';
import type { Services } from '../services.ts';

export interface Uploads {
  readonly server: Server;
  /** Takes over what had arrived whole when the last process ended. */
  recover(): Promise<void>;
}

interface UploadMeta {
  readonly personId: string;
  readonly assignmentId: string;
  readonly name: string;
}

const UPLOAD_DAYS = 7;

/**
 * Resumable uploads (tus 1.0.0) into the blob store. An upload's id begins with the person it belongs to, so
 * that nobody else can read or go on with it. The take has the id of its upload: taking over twice makes one
 * take.
 */
export function createUploads(services: Services): Uploads {
  const folder = join(services.settings.APODIX_DATA, 'uploads');
  const store = new FileStore({
    directory: folder,
    expirationPeriodInMilliseconds: UPLOAD_DAYS * 86_400_000,
  });
  const server = new Server({
    path: UPLOAD_PATH,
    datastore: store,
    maxSize: services.settings.APODIX_MAX_UPLOAD_BYTES,
    relativeLocation: true,
    respectForwardedHeaders: false,
    namingFunction: async (request) => {
      const person = await findCaller({ headers: { cookie: request.headers.get('cookie') ?? undefined } });
      if (!person) throw toTusError(new ApodixError('NOT_SIGNED_IN'));
      return `${person.id}.${randomUUID()}`;
    },
    onIncomingRequest: async (request, uploadId) => {
      const person = await findCaller({ headers: { cookie: request.headers.get('cookie') ?? undefined } });
      if (!person) throw toTusError(new ApodixError('NOT_SIGNED_IN'));
      if (request.method !== 'POST' && !uploadId.startsWith(`${person.id}.`))
        throw toTusError(new ApodixError('NOT_ALLOWED'));
    },
    onUploadCreate: async (request, upload) => {
      const person = await findCaller({ headers: { cookie: request.headers.get('cookie') ?? undefined } });
      const assignmentId = upload.metadata?.assignmentId ?? '';
      await grant('assignment', person, { assignmentId }).catch((error: unknown) => {
        throw toTusError(error);
      });
      return {
        metadata: {
          ...upload.metadata,
          personId: person?.id ?? '',
          name: (upload.metadata?.name ?? 'take').slice(0, 300),
        },
      };
    },
    onUploadFinish: async (_request, upload) => {
      try {
        await takeOver(upload.id, upload.metadata as unknown as UploadMeta);
        return {};
      } catch (error) {
        services.log.error({ err: error }, 'An upload could not be taken over');
        throw toTusError(error);
      }
    },
  });

  async function takeOver(uploadId: string, meta: UploadMeta): Promise<void> {
    const takeId = uploadId.split('.').at(-1) ?? uploadId;
    const path = join(folder, uploadId);
    if (!(await TakeRow.findByPk(takeId))) {
      const { sha256, sizeBytes } = await services.blobs.adopt(path, { isKept: true });
      await TakeRow.create({
        id: takeId,
        personId: meta.personId,
        assignmentId: meta.assignmentId,
        name: meta.name,
        sha256,
        sizeBytes,
        state: 'inspecting',
        kind: null as MediaKind | null,
        isChosen: false,
        isShaped: false,
        facts: null,
        proposal: null,
        fault: null,
        proxySha256: null,
        stripSha256: null,
        posterSha256: null,
        createdAt: new Date(),
      });
    }
    await Promise.all([path, `${path}.json`].map((each) => rm(each, { force: true })));
    const take = await TakeRow.findByPk(takeId);
    if (take?.state === 'inspecting')
      await services.jobs.add({
        kind: 'inspect',
        personId: meta.personId,
        takeId,
        assignmentId: meta.assignmentId,
        input: {},
        inputHash: hashInput({ takeId }),
      });
    services.live.tell(meta.personId, { type: 'work', assignmentId: meta.assignmentId });
  }

  return {
    server,
    recover: async () => {
      const names = await readdir(folder).catch(() => []);
      for (const name of names.filter((each) => !each.endsWith('.json'))) {
        const upload = await store.getUpload(name).catch(() => null);
        if (upload && upload.size !== undefined && upload.offset === upload.size)
          await takeOver(name, upload.metadata as unknown as UploadMeta).catch((error: unknown) =>
            services.log.error({ err: error }, 'An upload could not be recovered'),
          );
      }
      for (const take of await TakeRow.findAll({ where: { state: 'inspecting' } })) {
        await services.jobs.add({
          kind: 'inspect',
          personId: take.personId,
          takeId: take.id,
          assignmentId: take.assignmentId,
          input: {},
          inputHash: hashInput({ takeId: take.id }),
        });
      }
    },
  };
}

/** tus wants an object with a status and a body. */
function toTusError(error: unknown): { status_code: number; body: string } {
  const fault = error instanceof ApodixError ? error : new ApodixError('UNEXPECTED');
  const status = { NOT_SIGNED_IN: 401, NOT_ALLOWED: 403, NOT_FOUND: 404 }[fault.code as string] ?? 500;
  return { status_code: status, body: JSON.stringify(fault.toJSON()) };
}
