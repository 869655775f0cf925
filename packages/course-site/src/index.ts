export { SiteSettings } from './settings.ts';
export { AccessFile } from './access.ts';
export { ACCESS_FILE, startCourseSite, type RunningSite } from './start-site.ts';
