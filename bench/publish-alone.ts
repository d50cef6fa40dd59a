import { ModelFileError } from '@/formats/model-file-error';
import { publishModel } from '@/publish/publish-model';

/**
 * Publishes a file in this process and prints as JSON the most memory that it held, in kB, or why it was refused.
 * Arguments: FILE NAME OUT.
 */
const [path, fileName, outFolder] = process.argv.slice(2) as [string, string, string];
let told: { peak: number } | Pick<ModelFileError, 'problem' | 'message'>;
try {
  await publishModel(path, { fileName, outFolder });
  told = { peak: process.resourceUsage().maxRSS };
} catch (error) {
  if (!(error instanceof ModelFileError)) throw error;
  told = { problem: error.problem, message: error.message };
}
process.stdout.write(JSON.stringify(told));
