/** What a track is for. */
export type Role = 'dialogue' | 'narration' | 'music' | 'effects' | 'ambience';
export const ROLES: readonly Role[] = ['dialogue', 'narration', 'music', 'effects', 'ambience'];
