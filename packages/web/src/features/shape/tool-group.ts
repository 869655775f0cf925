/** What can be worked on in Shape, a group at a time. */
export type ToolGroup = 'cut' | 'frame' | 'color' | 'sound' | 'about' | 'check';
