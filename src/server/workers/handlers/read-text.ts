import { type LicenceReading, shortened, type TextPart, textDifferences } from '../../../core/rights'
import { licenceReading } from '../../licences/licence-texts'
import type { CompareTextsTask, ReadTextTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

/** What a text says of rights. */
export function readLicenceText({ text }: ReadTextTask): Promise<TaskResult<LicenceReading>> {
  return asTaskResult(async () => licenceReading(text))
}

/** What differs between two texts, long stretches that stayed cut down. */
export function compareTexts({ before, after }: CompareTextsTask): Promise<TaskResult<readonly TextPart[]>> {
  return asTaskResult(async () => shortened(textDifferences(before, after)))
}
