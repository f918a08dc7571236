// What a person means to change on a chart, worked out from the chart as it is then. Pure.
import type { Intent } from '../../data/change.ts'
import type { Review, SegmentSettings } from '../../data/chart.ts'
import { keptLimitsBut, segmentSettings, segmentsBut } from './settings.ts'
import { type ShiftDraft, segmentsWith } from './shift.ts'

/** Changes one segment, by its start. */
export function changing(start: string | null, changes: Partial<SegmentSettings>): Intent {
  return (now) => {
    const segments = segmentsBut(now, start, changes)
    return segments && { segments }
  }
}

/** Puts a shift, or moves one; limits that were kept there are no decision any more. */
export function shifting(kept: ShiftDraft): Intent {
  return (now) => {
    const segments = segmentsWith(now, kept)
    const decided = keptLimitsBut(kept.period, now)
    const reopened = decided.length < now.kept_limits.length
    return segments && { segments, ...(reopened ? { kept_limits: decided } : {}) }
  }
}

/** Removes a shift, by the start of its segment. */
export function removingShift(start: string | null | undefined): Intent {
  return (now) => ({ segments: segmentSettings(now).filter((segment) => segment.start !== start) })
}

/** Records that a value far off the others is right as it is. */
export function confirming(period: string): Intent {
  return (now) => ({ confirmed: [...now.confirmed.filter((other) => other !== period), period] })
}

/** Records that a process has not shifted, and why; the limits stay as they are. */
export function keepingLimits(period: string, reason: string, review: Review = {}): Intent {
  return (now) => ({ kept_limits: [...keptLimitsBut(period, now), { period, reason, review }] })
}
