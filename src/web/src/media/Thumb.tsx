import { useWorkspacePath } from '../workspaces/workspace';
import { isPicture, type MediaFile, mediaAddress } from './media';

interface Props {
  file: MediaFile;
  /** Of the small picture. */
  side?: 160 | 320 | 640;
  className?: string;
}

/** A file at a glance: the picture, what stands for a video, a leaf for a document. */
export function Thumb({ file, side = 320, className = '' }: Props) {
  const { id } = useWorkspacePath();
  if (isPicture(file) || file.hasPoster)
    return (
      <img
        src={mediaAddress(id, file.id, side)}
        alt={file.altText}
        loading="lazy"
        decoding="async"
        className={`size-full object-contain ${className}`}
      />
    );
  return (
    <span aria-hidden="true" className={`flex size-full items-center justify-center ${className}`}>
      <span
        className={`flex items-end justify-center border-[1.5px] border-rule-strong bg-leaf pb-2 font-head text-sm ${
          file.pages !== null ? 'h-3/4 w-2/5' : file.shape === 'upright' ? 'h-4/5 w-2/5' : 'h-1/2 w-4/5'
        }`}
      >
        {file.pages !== null ? 'PDF' : 'MP4'}
      </span>
    </span>
  );
}
