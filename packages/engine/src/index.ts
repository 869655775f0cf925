export {
  bringIn,
  inspectMedia,
  type BringInOptions,
  type BroughtIn,
  type Inspected,
} from './bring-in/bring-in.ts';
export type { Early } from './bring-in/early-film.ts';
export { makeFromTake, type MadeFromTake, type MakeFromTakeInput } from './make/make-from-take.ts';
export { makeFile, type MadeFile, type MakeInput } from './make/make-file.ts';
export { makeAhead, type MakeAheadInput } from './make/make-ahead.ts';
export { PieceStore, type StoredPiece } from './make/piece-store.ts';
export { sampleTake, type SampleInput } from './sample/sample-take.ts';
export { openIntermediate, type WorkingFiles } from './make/working-files.ts';
export { isReceiptGenuine, verifyReceipt, type VerifiedReceipt } from './receipt/verify-receipt.ts';
export { measureShake } from './steady/measure-shake.ts';
export { gatherTakes } from './gather/gather-takes.ts';
export { layOutCard } from './card/lay-out-card.ts';
export { mergePhotos } from './photo/merge-photos.ts';
export { runPhotoChild } from './photo/run-photo-child.ts';
export { readPaper } from './paper/run-paper-child.ts';
export { extractStill } from './photo/extract-still.ts';
export { hashFile } from './process/hash-file.ts';
export type { OnProgress, Progress } from './process/progress.ts';
export { runTool, type ToolResult, type ToolRun } from './process/run-tool.ts';
export { proveTake, type ProveTakeInput, type TakeProof } from './prove/prove-take.ts';
export { proveMade, type Proof, type ProveInput, type ProvenTake } from './prove/prove-made.ts';
export {
  makeSheet,
  measureShapedPhoto,
  type MadeSheet,
  type SheetInput,
  type SheetTake,
} from './sheet/make-sheet.ts';
export { writeSheet } from './sheet/write-sheet.ts';
