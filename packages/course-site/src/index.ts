export { SiteSettings } from './settings.ts';
export { startCourseSite, type RunningSite } from './start-site.ts';
