'use client';
import { Flex, Image, Link, Text } from '@chakra-ui/react';
import { FileText } from 'lucide-react';
import type { Attachment, Comment } from '@/core/project/comment';

interface AttachedFilesProps {
  /** Address of the project's API. */
  base: string;
  comment: Pick<Comment, 'id' | 'files'>;
}

/** Pictures and files of a comment or an answer; a press opens one of them by itself. */
export function AttachedFiles({ base, comment: { id, files } }: AttachedFilesProps) {
  if (files.length === 0) return null;
  return (
    <Flex as="ul" listStyleType="none" gap="2" mt="2" wrap="wrap" aria-label="Pictures and files">
      {files.map((file) => (
        <li key={file.id}>
          <AttachedFile file={file} address={`${base}/comments/${id}/files/${file.id}`} />
        </li>
      ))}
    </Flex>
  );
}

function AttachedFile({ file, address }: { file: Attachment; address: string }) {
  const { name, width, size } = file;
  if (width !== null)
    return (
      <Link href={address} target="_blank" rel="noreferrer" aria-label={`Picture ${name}`} title={name}>
        <Image src={address} alt="" loading="lazy" h="72px" w="96px" objectFit="cover" borderRadius="8px" bg="felt" />
      </Link>
    );
  return (
    <Link
      href={address}
      download={name}
      display="flex"
      alignItems="center"
      gap="2"
      minH="44px"
      px="3"
      bg="felt"
      color="ink"
      borderRadius="10px"
      maxW="260px"
    >
      <FileText size={18} aria-hidden />
      <Text fontSize="sm" truncate>
        {name}
      </Text>
      <Text fontSize="xs" color="softInk" flexShrink="0">
        {sizeText(size)}
      </Text>
    </Link>
  );
}

function sizeText(bytes: number): string {
  return bytes < 1_000_000 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`;
}
