import type { CropPlace } from '../../media/CropDialog';
import type { Crop } from '../../media/crops';
import { inheritedAt, type Picture, type PostContent, saidAt, saying, withValue } from '../../posts/content';

const valuesOn = (content: PostContent, wording: number, network: string) => ({
  ...inheritedAt(content, { wording, network }),
  ...saidAt(content, { wording, network }),
});

/** Where a picture of a wording goes, with the part of it that each network gets now. */
export function cropPlaces(
  content: PostContent,
  wording: number,
  media: string,
  networks: readonly string[],
): CropPlace[] {
  return networks.flatMap((network) => {
    const values = valuesOn(content, wording, network);
    const picture = values.pictures?.find((p) => p.media === media);
    return picture ? [{ network, format: values.format ?? 'pictures', crop: picture.crop ?? null }] : [];
  });
}

/** The content with other parts of a picture for some networks. One that gets the same as all has nothing of its own. */
export function withCrops(
  content: PostContent,
  wording: number,
  media: string,
  crops: ReadonlyMap<string, Crop | null>,
): PostContent {
  let changed = content;
  for (const [network, crop] of crops) {
    const place = { wording, network };
    const pictures = valuesOn(content, wording, network).pictures;
    if (!pictures) continue;
    const cut = pictures.map((p) => (p.media === media ? cropped(p, crop) : p));
    const shared = inheritedAt(content, place).pictures ?? [];
    const isShared = JSON.stringify(cut.map(plain)) === JSON.stringify(shared.map(plain));
    changed = saying(changed, place, withValue(saidAt(changed, place), 'pictures', isShared ? undefined : cut));
  }
  return changed;
}

function cropped(picture: Picture, crop: Crop | null): Picture {
  const { crop: _, ...whole } = picture;
  return crop ? { ...whole, crop } : whole;
}

/** What is null or left out says the same. */
const plain = ({ media, altText, focus, crop }: Picture) => [media, altText ?? null, focus ?? null, crop ?? null];
