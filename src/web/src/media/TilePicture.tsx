import type { Schemas } from '../api/client';
import { viewBoxOf } from './crops';
import { mediaAddress } from './media';

interface Props {
  workspace: string;
  tile: Pick<Schemas['WallPicture'], 'mediaId' | 'crop' | 'ratio' | 'altText' | 'hasPicture'>;
  /** Of the small picture, where all of it is shown. */
  side: 320 | 640;
}

/** A picture on a channel's page, or what stands for a film. */
export function TilePicture({ workspace, tile, side }: Props) {
  if (!tile.hasPicture)
    return (
      <span className="flex aspect-[4/5] w-full items-center justify-center border border-rule-strong bg-leaf px-2 text-center text-faded text-sm">
        A film without a picture that stands for it
      </span>
    );
  return (
    <img
      src={mediaAddress(workspace, tile.mediaId, tile.crop ? undefined : side)}
      alt={tile.altText ?? ''}
      loading="lazy"
      className="w-full bg-wash"
      style={{
        ...(tile.crop && { objectViewBox: viewBoxOf(tile.crop) }),
        ...(tile.ratio && { aspectRatio: tile.ratio }),
      }}
    />
  );
}
