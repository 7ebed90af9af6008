export interface SeeingReport { night: string; lines: string[] }
