import { publishModel } from '@/publish/publish-model';

/** Publishes a file in this process and prints the most memory that it held, in kB. Arguments: FILE NAME OUT. */
const [path, fileName, outFolder] = process.argv.slice(2) as [string, string, string];
await publishModel(path, { fileName, outFolder });
process.stdout.write(String(process.resourceUsage().maxRSS));
