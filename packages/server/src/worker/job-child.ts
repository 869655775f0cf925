import {
  ApodixError,
  EMPTY_EVIDENCE,
  EMPTY_SERIES,
  applySeparateSound,
  keepOwnTake,
  laySound,
  measureFramesUs,
  laySeparate,
  planNextSample,
  planSamples,
  proposeColor,
  readPlanRecipe,
  readSoundFaults,
  readSoundSource,
  readEvidence,
  readTakeSeries,
  writeEvidence,
  writeTakeSeries,
} from '@apodix/core';
import {
  bringIn,
  gatherTakes,
  inspectMedia,
  makeAhead,
  makeFile,
  makeSheet,
  measureShake,
  openIntermediate,
  PieceStore,
  runPhotoChild,
  runTool,
  sampleTake,
  type Early,
  type ProvenTake,
} from '@apodix/engine';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { deliver } from './deliver.ts';
import { END_BY_ITSELF, WorkerTask, type WorkerMessage } from './messages.ts';

/** One job in a process of its own. It ends when its parent does, however that ended. */
const controller = new AbortController();
process.once('disconnect', () => {
  controller.abort();
  setTimeout(() => process.exit(1), 1500).unref();
});
process.once('SIGTERM', () => controller.abort());
/**
 * Asked to end by itself: a delivery that is to be taken back, as the course site has the last word on it,
 * and what is made ahead, so that pieces under way are not lost.
 */
const ending = new AbortController();

function send(message: WorkerMessage): Promise<void> {
  return new Promise((resolve) => {
    if (process.send && process.connected) process.send(message, undefined, undefined, () => resolve());
    else resolve();
  });
}

const onProgress = (progress: { stage: string; share: number; secondsLeft: number | null }) =>
  void send({ type: 'progress', ...progress });

async function work(task: WorkerTask): Promise<unknown> {
  const { signal } = controller;
  if (task.kind === 'inspect') return inspect(task);
  if (task.kind === 'align') return align(task);
  if (task.kind === 'shake') return shake(task);
  if (task.kind === 'sheet') return sheet(task);
  if (task.kind === 'deliver')
    return deliver({
      ...task,
      signal,
      withdrawSignal: ending.signal,
      onProgress: (stage, share) => onProgress({ stage, share, secondsLeft: null }),
    });
  const { facts, series, evidence } = await readMeasured(task);
  const working = await openIntermediate(task.working.intermediatePath);
  if (task.kind === 'sample') {
    const spec = planSamples(facts, series, task.recipe, task.limits);
    if (!spec) throw new ApodixError('CANCELLED');
    const { recipe, limits } = task;
    return sampleTake({
      sourcePath: task.sourcePath,
      facts,
      recipe,
      series,
      working,
      spec,
      known: task.known,
      isFirstLook: task.isFirstLook,
      onGrown: (samples) => void send({ type: 'early', result: samples }),
      scratchFolder: task.folder,
      signal,
      onProgress,
      findNext: (samples) =>
        planNextSample({
          facts,
          recipe: keepOwnTake(recipe),
          limits,
          series,
          samples,
          takeName: 'take',
          nameContext: null,
        }),
    });
  }
  const whole = await takeOthers(task, { facts, series, evidence });
  const store = new PieceStore(task.pieces);
  const planned = {
    sourcePath: task.sourcePath,
    plan: task.plan,
    ...whole,
    working,
    store,
    signal,
    onProgress,
  };
  if (task.kind === 'ahead') {
    await makeAhead({ ...planned, scratchFolder: task.folder, enough: ending.signal });
    return {};
  }
  const made = await makeFile({
    ...planned,
    judge: { limits: task.limits, nameContext: task.nameContext, slotId: task.slotId },
    momentsFolder: task.folder,
    outputPath: join(task.folder, `made.${task.plan.container}`),
  });
  return {
    path: made.path,
    facts: made.facts,
    findings: made.findings,
    comparison: made.comparison,
    plan: made.plan,
    moments: made.moments,
    poster: await makePoster(made.path, task),
  };
}

/** Tells what is there early; frame times go by a file, as there are many. */
async function tellEarly(early: Early, folder: string): Promise<void> {
  if (early.of !== 'times') return send({ type: 'early', result: early });
  const { video, sound, frames, keyframesUs, durationUs } = early;
  const path = join(folder, 'first-series.bin');
  await writeFile(path, writeTakeSeries({ ...EMPTY_SERIES, frames, keyframesUs }));
  return send({ type: 'early', result: { of: 'times', draft: { video, sound, durationUs }, series: path } });
}

async function inspect(task: Extract<WorkerTask, { kind: 'inspect' }>): Promise<unknown> {
  const { signal } = controller;
  const { facts, filmstrip, series, evidence, isOwnProxy, files } = await bringIn(
    task.sourcePath,
    task.folder,
    {
      signal,
      onProgress,
      mostLines: task.mostLines,
      onEarly: (early) => void tellEarly(early, task.folder),
    },
  );
  const paths = { series: join(task.folder, 'series.bin'), evidence: join(task.folder, 'evidence.bin') };
  await writeFile(paths.series, writeTakeSeries(series));
  await writeFile(paths.evidence, writeEvidence(evidence));
  const color = evidence.colors && facts.kind === 'video' ? proposeColor(evidence.colors) : null;
  const faults = evidence.sound ? readSoundFaults(evidence.sound) : null;
  return { facts, filmstrip, isOwnProxy, color, faults, files: { ...files, ...paths } };
}

/** The series of a take with how its camera shook. */
async function shake(task: Extract<WorkerTask, { kind: 'shake' }>): Promise<unknown> {
  const { facts, folder } = task;
  const series = readTakeSeries(await readFile(task.seriesPath));
  const startedMs = Date.now();
  const measured = await measureShake({
    path: task.sourcePath,
    facts,
    frameCount: series.frames?.timesUs.length ?? 0,
    folder,
    signal: controller.signal,
    onShare: (share) => {
      const leftMs = share > 0.05 ? ((Date.now() - startedMs) * (1 - share)) / share : null;
      const secondsLeft = leftMs === null ? null : leftMs / 1000;
      onProgress({ stage: 'Following the camera', share, secondsLeft });
    },
  });
  const seriesPath = join(folder, 'with-shake.bin');
  await writeFile(seriesPath, writeTakeSeries({ ...series, shake: measured }));
  return { seriesPath };
}

/** A sheet as PDF, in the job's own folder. */
async function sheet(task: Extract<WorkerTask, { kind: 'sheet' }>): Promise<unknown> {
  const path = join(task.folder, 'sheet.pdf');
  const { signal } = controller;
  await makeSheet({ ...task, outputPath: path, scratchFolder: task.folder, signal, onProgress });
  return { path };
}

async function align(task: Extract<WorkerTask, { kind: 'align' }>): Promise<unknown> {
  const [picture, sound] = await Promise.all(
    [task.pictureEvidencePath, task.soundEvidencePath].map(
      async (path) => readEvidence(await readFile(path)).sound,
    ),
  );
  return picture && sound ? laySound(picture, sound) : null;
}

/** The take with all that its plan takes from others: joined parts, or the sound of a separate recording. */
async function takeOthers(task: Extract<WorkerTask, { kind: 'make' | 'ahead' }>, take: ProvenTake) {
  const { folder } = task;
  const recipe = readPlanRecipe(task.plan);
  const others = await Promise.all(
    task.others.map(async (each) => ({
      ...each,
      ...(await readMeasured({ ...each, kind: 'make', folder })),
      path: each.sourcePath,
    })),
  );
  const laid = applySeparateSound(take, recipe, others);
  const source = readSoundSource(recipe);
  const separate = others.find((each) => each.takeId === source?.takeId);
  const heard = separate
    ? laySeparate({ evidence: take.evidence, series: laid.series }, recipe, separate.evidence.sound)
    : take;
  const { files, ...whole } = gatherTakes({ ...heard, facts: laid.facts }, recipe, others);
  return {
    ...whole,
    separate: separate
      ? { path: separate.sourcePath, facts: separate.facts, ownSound: take.facts.sound }
      : null,
    joined: files,
  };
}

type Measurable = Pick<
  Extract<WorkerTask, { kind: 'sample' }>,
  'sourcePath' | 'facts' | 'seriesPath' | 'evidencePath' | 'folder'
>;

/** What inspection left of a take; measured now where it left nothing yet. */
async function readMeasured(
  task: Measurable & { readonly kind: 'make' | 'sample' | 'ahead' },
): Promise<ProvenTake> {
  const { facts, seriesPath, evidencePath, folder } = task;
  const isProof = task.kind === 'make';
  if (seriesPath === null || (isProof && evidencePath === null)) {
    onProgress({ stage: 'Measuring the take', share: 0, secondsLeft: null });
    const measured = await inspectMedia(task.sourcePath, {
      scratchFolder: folder,
      signal: controller.signal,
    });
    // Facts stay as they were planned with; only what was not looked for then is new.
    return { facts, series: measured.series, evidence: measured.evidence };
  }
  return {
    facts,
    series: readTakeSeries(await readFile(seriesPath)),
    evidence: evidencePath === null ? EMPTY_EVIDENCE : readEvidence(await readFile(evidencePath)),
  };
}

async function makePoster(path: string, task: Extract<WorkerTask, { kind: 'make' }>): Promise<string | null> {
  const poster = join(task.folder, 'poster.jpg');
  if (task.plan.kind === 'photo') {
    await runPhotoChild(
      {
        task: 'preview',
        path,
        container: task.plan.container,
        outputs: [{ path: poster, longEdgePx: 640, quality: 82 }],
      },
      controller.signal,
    );
    return poster;
  }
  if (task.plan.kind === 'sound') return null;
  const middleS = measureFramesUs(task.plan.cut) / 2e6;
  const result = await runTool({
    fault: null,
    tool: 'ffmpeg',
    args: [
      '-v',
      'error',
      '-nostdin',
      '-ss',
      middleS.toFixed(3),
      '-i',
      `file:${path}`,
      '-frames:v',
      '1',
      '-vf',
      'scale=640:640:force_original_aspect_ratio=decrease',
      '-q:v',
      '4',
      '-f',
      'image2',
      '-update',
      '1',
      '-y',
      poster,
    ],
    signal: controller.signal,
  });
  return result.exitCode === 0 ? poster : null;
}

process.once('message', (rawTask) => {
  process.once('message', (word) => {
    if (word === END_BY_ITSELF) ending.abort();
  });
  void (async () => {
    try {
      await send({ type: 'done', result: await work(WorkerTask.parse(rawTask)) });
    } catch (error) {
      const fault =
        error instanceof ApodixError
          ? error
          : new ApodixError(controller.signal.aborted ? 'CANCELLED' : 'UNEXPECTED', { cause: error });
      const cause = fault.cause instanceof Error ? (fault.cause.stack ?? fault.cause.message) : undefined;
      await send({
        type: 'failed',
        code: fault.code,
        ...(fault.detail === undefined ? {} : { detail: fault.detail }),
        ...(cause === undefined ? {} : { trace: cause.slice(-4000) }),
      });
    }
    process.exit(0);
  })();
});
