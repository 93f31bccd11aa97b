import type { CropPlace } from '../media/CropDialog';
import type { Crop } from '../media/crops';
import { type FieldValues, type Picture, type PostContent, withNetwork, withValue } from './content';

/** What a network gets of the pictures: its own, or the common ones. */
const picturesOn = (content: PostContent, network: string): readonly Picture[] | null => {
  const own = content.networks[network]?.pictures;
  return own === undefined ? (content.common.pictures ?? null) : own;
};

/** Where a picture goes, with the part of it that each network gets now. */
export function cropPlaces(content: PostContent, media: string, networks: readonly string[]): CropPlace[] {
  return networks.flatMap((network) => {
    const picture = picturesOn(content, network)?.find((p) => p.media === media);
    const format = content.networks[network]?.format ?? content.common.format ?? 'pictures';
    return picture ? [{ network, format, crop: picture.crop ?? null }] : [];
  });
}

/** The content with other parts of a picture for some networks. One that gets the same as all has nothing of its own. */
export function withCrops(content: PostContent, media: string, crops: ReadonlyMap<string, Crop | null>): PostContent {
  let changed = content;
  for (const [network, crop] of crops) {
    const pictures = picturesOn(content, network);
    if (!pictures) continue;
    const cut = pictures.map((p) => (p.media === media ? cropped(p, crop) : p));
    const own: FieldValues = changed.networks[network] ?? {};
    const isCommon = JSON.stringify(cut.map(plain)) === JSON.stringify((content.common.pictures ?? []).map(plain));
    changed = withNetwork(changed, network, withValue(own, 'pictures', isCommon ? undefined : cut));
  }
  return changed;
}

function cropped(picture: Picture, crop: Crop | null): Picture {
  const { crop: _, ...whole } = picture;
  return crop ? { ...whole, crop } : whole;
}

/** What is null or left out says the same. */
const plain = ({ media, altText, focus, crop }: Picture) => [media, altText ?? null, focus ?? null, crop ?? null];
