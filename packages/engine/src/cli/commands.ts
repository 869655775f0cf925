import { findPaper } from '../paper/find-paper.ts';
import { readPaper } from '../paper/run-paper-child.ts';
import {
  ApodixError,
  buildOffers,
  buildPlan,
  findMissingStream,
  isEveryMustMet,
  isLeftToPerson,
  judgeMade,
  Limits,
  LocalTime,
  noticeTake,
  planNextSample,
  planSamples,
  openRecipe,
  readInstructions,
  type FaultCode,
  type Finding,
  type Limit,
  type MediaFacts,
  type OpenedRecipe,
} from '@apodix/core';
import { constants } from 'node:fs';
import { access, mkdir, readFile, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, dirname, resolve } from 'node:path';
import { z } from 'zod';
import { inspectMedia, type Inspected } from '../bring-in/bring-in.ts';
import { proposeRecipe } from '../bring-in/propose-recipe.ts';
import { proveTake } from '../prove/prove-take.ts';
import { verifyReceipt } from '../receipt/verify-receipt.ts';
import { makeFromTake } from '../make/make-from-take.ts';
import { isSameFile } from '../process/same-file.ts';
import type { Progress } from '../process/progress.ts';
import { sampleTake } from '../sample/sample-take.ts';
import { alignCommand } from './align-command.ts';
import { LEFT_TO_PERSON, type CommandEnd } from './command-end.ts';
import { useBlankSheet } from './blank-sheet.ts';
import { mergeCommand } from './merge-command.ts';
import { proposeCommand } from './propose-command.ts';
import { parseCommandLine, type Options } from './parse-command-line.ts';
import { suggestCommand } from './suggest-command.ts';
import { UsageError, usage } from './usage.ts';
import { writeSeriesFiles } from './write-series-files.ts';

/**
 * Runs one command line (without program name) and gives its answer and exit code; throws `UsageError` and
 * `ApodixError`.
 */
export async function runCommand(argv: readonly string[], signal: AbortSignal): Promise<CommandEnd> {
  const { command, file, more, options } = parseCommandLine(argv);
  if (command === 'help') return { answer: { usage }, exitCode: 0 };
  if (command === 'read-limits') return readLimitsCommand(file, options);
  await requireFile(file);
  if (command === 'verify') return verifyCommand(file, more, options);
  for (const path of more) await requireFile(path);
  if (command === 'merge') return mergeCommand([file, ...more], options.out, signal);
  if (command === 'align') return alignCommand(file, more[0] ?? '', signal);
  await protectInputs([file, options.source, options.recipe, options.limits, options.blank], options.report);
  if (options.blank !== undefined) await requireFile(options.blank);
  if (command === 'suggest') return suggestCommand(file, options.subject, signal);
  if (command === 'inspect') return inspectCommand(file, options, signal);
  const isProposal = command === 'propose';
  const hasLimits = options.limits !== undefined || options.asks !== undefined;
  const limits = isProposal && !hasLimits ? [] : await readLimits(options);
  if (isProposal)
    return proposeCommand(await inspectForLimits(file, limits, signal), limits, options.blank, signal);
  if (command === 'offers') return offersCommand(file, limits, options, signal);
  if (command === 'prove') return proveCommand(file, limits, options, signal);
  return makeCommand(file, limits, options, signal);
}

async function requireFile(file: string): Promise<void> {
  const found = await stat(file).catch(() => null);
  if (!found?.isFile()) throw new UsageError(`There is no file "${file}".`);
  await access(file, constants.R_OK).catch(() => {
    throw new UsageError(`"${file}" cannot be read.`);
  });
}

/** Holds a receipt against its signature, the school's key and files. */
async function verifyCommand(file: string, more: readonly string[], options: Options): Promise<CommandEnd> {
  for (const path of [...more, ...(options.key === undefined ? [] : [options.key])]) await requireFile(path);
  const verified = await verifyReceipt(file, options.key ?? null, more);
  const isWrong =
    !verified.isGenuine ||
    verified.isByKey === false ||
    verified.files.some((each) => each.receiptName === null);
  const leftToPerson = verified.isByKey === null ? ['Whose key it was signed with: give --key'] : [];
  const exitCode = isWrong ? 1 : leftToPerson.length > 0 ? LEFT_TO_PERSON : 0;
  return { answer: { isVerified: exitCode === 0, leftToPerson, ...verified }, exitCode };
}

/** A report never goes over a file that is read. */
async function protectInputs(
  inputs: readonly (string | undefined)[],
  report: string | undefined,
): Promise<void> {
  if (report === undefined) return;
  for (const input of inputs)
    if (input !== undefined && (await isSameFile(resolve(report), resolve(input)).catch(() => false)))
      throw new UsageError(`--report would write over "${input}".`);
}

/** Reads instructions from a file or, for `-`, from standard input. */
async function readLimitsCommand(file: string, options: Options): Promise<CommandEnd> {
  if (file !== '-') await requireFile(file);
  const now = options.now ?? readLocalNow();
  if (!LocalTime.safeParse(now).success) throw new UsageError('--now has to look like 2026-11-24T09:00.');
  if (file !== '-' && (await findPaper(file)) !== null) {
    const { pages, ...read } = await readPaper(file);
    const paper = { ...read, pages: pages.length };
    return { answer: { ...readInstructions(paper.text, { now }), paper }, exitCode: 0 };
  }
  const text = file === '-' ? await readStandardInput() : await readFile(file, 'utf8');
  return { answer: readInstructions(text, { now }), exitCode: 0 };
}

async function readStandardInput(): Promise<string> {
  const parts: Buffer[] = [];
  for await (const part of process.stdin as AsyncIterable<Buffer>) parts.push(part);
  return Buffer.concat(parts).toString('utf8');
}

/** This machine's wall clock to the minute: `2026-11-24T09:00`. */
function readLocalNow(): string {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

async function readLimits(options: Options): Promise<Limit[]> {
  if ((options.limits === undefined) === (options.asks === undefined))
    throw new UsageError('Give either --limits or --asks.');
  if (options.asks !== undefined) {
    const { limits, notUnderstood, conflicts } = readInstructions(options.asks, { now: readLocalNow() });
    const unread = notUnderstood.map((wish) => `"${wish.text}"`).join(', ');
    if (limits.length === 0)
      throw new UsageError(`--asks holds no limit.${unread ? ` Not understood: ${unread}` : ''}`);
    if (unread) process.stderr.write(`Not understood: ${unread}\n`);
    for (const conflict of conflicts)
      process.stderr.write(`${conflict.message} ${conflict.possible ?? ''}\n`);
    return limits;
  }
  const parsed = Limits.safeParse(await readJson(options.limits ?? '', 'limits'));
  if (!parsed.success)
    throw new UsageError(
      `The limits do not have the form of docs/schemas/limits.schema.json: ${describeIssues(parsed.error.issues)}`,
    );
  return parsed.data;
}

/** A recipe of this form or of an older one, with what an older one said of Fit. */
async function readRecipe(path: string): Promise<OpenedRecipe> {
  const raw = await readJson(path, 'recipe');
  // What `propose` answers of a photograph holds its recipe.
  const { recipe, version } = (raw ?? {}) as { recipe?: unknown; version?: unknown };
  try {
    return openRecipe(version === undefined && recipe !== undefined ? recipe : raw);
  } catch (error) {
    if (!(error instanceof z.ZodError)) throw error;
    const issues = describeIssues(error.issues);
    throw new UsageError(`The recipe does not have the form of docs/schemas/recipe.schema.json: ${issues}`);
  }
}

async function readJson(path: string, what: string): Promise<unknown> {
  try {
    return JSON.parse(await readFile(path, 'utf8')) as unknown;
  } catch (error) {
    throw new UsageError(
      `The ${what} cannot be read: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
}

function describeIssues(issues: readonly { path: readonly PropertyKey[]; message: string }[]): string {
  return issues
    .slice(0, 3)
    .map((issue) => `${issue.path.map(String).join('.') || 'all'}: ${issue.message}`)
    .join('; ');
}

async function inspectCommand(file: string, options: Options, signal: AbortSignal): Promise<CommandEnd> {
  const { facts, series, evidence } = await inspectMedia(file, { signal, scratchFolder: tmpdir() });
  const written =
    options.series === undefined ? [] : await writeSeriesFiles(options.series, series, evidence);
  const times = facts.video?.rateKind === 'variable' ? series.frames?.timesUs : undefined;
  const video = facts.video && { ...facts.video, ...(times ? { frameTimesUs: times } : {}) };
  const answer = {
    ...facts,
    video,
    noticed: noticeTake(facts),
    ...(written.length ? { series: written } : {}),
  };
  return { answer, exitCode: 0 };
}

async function inspectForLimits(
  file: string,
  limits: readonly Limit[],
  signal: AbortSignal,
): Promise<Inspected> {
  tellProgress({ stage: 'Measuring the take', share: 0, secondsLeft: null });
  const inspected = await inspectMedia(file, { signal, scratchFolder: tmpdir() });
  const missing = findMissingStream(limits, inspected.facts);
  if (missing) throw new ApodixError(missing);
  return inspected;
}

/**
 * Codes short samples of the take and answers what each size would look like: curves, and what one can choose
 * between.
 */
async function offersCommand(
  file: string,
  limits: Limit[],
  options: Options,
  signal: AbortSignal,
): Promise<CommandEnd> {
  const given = options.recipe === undefined ? null : await readRecipe(options.recipe);
  const inspected = await inspectForLimits(file, limits, signal);
  const { facts, series } = inspected;
  const recipe = given?.recipe ?? proposeRecipe(inspected, limits);
  const spec = planSamples(facts, series, recipe, limits);
  if (!spec) throw new UsageError('offers needs a video.');
  const known = {
    facts,
    recipe,
    limits,
    series,
    choice: given?.fit ?? null,
    takeName: basename(file),
    nameContext: null,
    slotId: options.slot ?? null,
  };
  const samples = await sampleTake({
    sourcePath: resolve(file),
    facts,
    series,
    recipe,
    spec,
    scratchFolder: tmpdir(),
    signal,
    onProgress: tellProgress,
    findNext: (first) => planNextSample({ ...known, samples: first }),
  });
  const input = { ...known, samples };
  const { refusals } = buildPlan(input);
  return finish(options, { samples, ...buildOffers(input), refusals }, refusals.length > 0 ? 4 : 0);
}

/**
 * With `--source` the whole proof of a file that anybody may have made from it; without, only what the limits
 * ask of the file itself.
 */
async function proveCommand(
  file: string,
  limits: Limit[],
  options: Options,
  signal: AbortSignal,
): Promise<CommandEnd> {
  if (options.source !== undefined) return proveAgainstTake(file, options.source, limits, options, signal);
  const { facts } = await inspectMedia(file, { signal, scratchFolder: tmpdir() });
  const context = { limits, nameContext: null, slotId: options.slot ?? null };
  const origin = {
    spanCount: null,
    clippedCount: facts.sound?.clippedCount ?? null,
    continuity: facts.continuity,
    inView: null,
  };
  const findings = judgeMade(facts, basename(file), origin, context);
  const missing = findMissingStream(limits, facts);
  return finish(options, ...buildProofAnswer({ file: basename(file) }, facts, findings, missing));
}

/** What `prove` answers, and its exit code: neither what falls short nor what no machine tells is proven. */
function buildProofAnswer(
  names: Readonly<Record<string, string>>,
  facts: MediaFacts,
  findings: readonly Finding[],
  missing: FaultCode | null,
): [answer: object, exitCode: CommandEnd['exitCode']] {
  const everyMustMet = isEveryMustMet(findings) && missing === null;
  const leftToPerson = findings.filter(isLeftToPerson).map(({ label }) => label);
  const isProven = everyMustMet && leftToPerson.length === 0;
  const answer = {
    ...names,
    sha256: facts.sha256,
    sizeBytes: facts.sizeBytes,
    isProven,
    everyMustMet,
    leftToPerson,
    ...(missing ? { missing: new ApodixError(missing).toJSON() } : {}),
    findings,
  };
  return [answer, isProven ? 0 : everyMustMet ? LEFT_TO_PERSON : 1];
}

async function proveAgainstTake(
  file: string,
  source: string,
  limits: Limit[],
  options: Options,
  signal: AbortSignal,
): Promise<CommandEnd> {
  await requireFile(source);
  const recipe = options.recipe === undefined ? null : (await readRecipe(options.recipe)).recipe;
  tellProgress({ stage: 'Holding it against the take', share: 0, secondsLeft: null });
  const { facts, findings } = await proveTake({
    madePath: resolve(file),
    sourcePath: resolve(source),
    thenPaths: (options.then ?? []).map((each) => resolve(each)),
    recipe,
    limits,
    slotId: options.slot ?? null,
    scratchFolder: tmpdir(),
    signal,
  });
  const missing = findMissingStream(limits, facts);
  const names = { file: basename(file), source: basename(source) };
  return finish(options, ...buildProofAnswer(names, facts, findings, missing));
}

async function makeCommand(
  file: string,
  limits: Limit[],
  options: Options,
  signal: AbortSignal,
): Promise<CommandEnd> {
  if (options.out === undefined) throw new UsageError('make needs --out FOLDER.');
  const given = options.recipe === undefined ? null : await readRecipe(options.recipe);
  const { blank } = options;
  let own = given?.recipe ?? null;
  if (blank !== undefined) {
    const inspected = await inspectForLimits(file, limits, signal);
    own = await useBlankSheet(own ?? proposeRecipe(inspected, limits), inspected, blank, signal);
  }
  tellProgress({ stage: 'Measuring the take', share: 0, secondsLeft: null });
  const { recipe, refusals, planned, made } = await makeFromTake({
    path: resolve(file),
    limits,
    recipe: own,
    choice: given?.fit ?? null,
    slotId: options.slot ?? null,
    soundPath: options.sound === undefined ? null : resolve(options.sound),
    thenPaths: (options.then ?? []).map((each) => resolve(each)),
    outputFolder: resolve(options.out),
    signal,
    onProgress: tellProgress,
  }).catch((error: unknown) => {
    throw error instanceof ApodixError && error.code === 'BAD_REQUEST' && error.detail
      ? new UsageError(error.detail)
      : error;
  });
  if (!made) return finish(options, { refusals, recipe, planned }, 4);
  const answer = {
    file: made.path,
    sha256: made.facts.sha256,
    sizeBytes: made.facts.sizeBytes,
    everyMustMet: made.everyMustMet,
    facts: made.facts,
    findings: made.findings,
    comparison: made.comparison,
    recipe,
    plan: made.plan,
  };
  return finish(options, answer, made.everyMustMet ? 0 : 1);
}

async function finish(
  options: Options,
  answer: unknown,
  exitCode: CommandEnd['exitCode'],
): Promise<CommandEnd> {
  if (options.report !== undefined) {
    await mkdir(dirname(resolve(options.report)), { recursive: true });
    await writeFile(options.report, `${JSON.stringify(answer, null, 2)}\n`);
  }
  return { answer, exitCode };
}

function tellProgress(progress: Progress): void {
  const left = progress.secondsLeft === null ? '' : `, about ${progress.secondsLeft} s left`;
  process.stderr.write(`${progress.stage}: ${Math.round(progress.share * 100)} %${left}\n`);
}
