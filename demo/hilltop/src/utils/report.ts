import { seeingLog } from '../api/seeingService'
import type { SeeingReport } from '../types/SeeingReport'

export async function report(night: string): Promise<SeeingReport> {
  return { night, lines: (await seeingLog()).map((entry) => JSON.stringify(entry)) }
}
