export { generateMedia, hashGenerator, pieces, type OnStep } from './media/generate-media.ts';
export { buildExif, writeHeif } from './media/heif-writer.ts';
export { buildAssignments } from './scenario/assignments.ts';
export { COLLEGE, people } from './scenario/people.ts';
export { photographPrint } from './scenes/prints.ts';
export { ApiClient } from './seed/api-client.ts';
export { seedStories, signInAsTeacher, type TeachersSite } from './seed/seed-stories.ts';
export { prepareDemo } from './prepare-demo.ts';
