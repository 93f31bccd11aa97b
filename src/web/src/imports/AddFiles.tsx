import { wordsOf } from '../api/client';
import { FileButton } from '../ui/FileButton';
import { useNotices } from '../ui/Notices';
import { useAddMedia } from './imports';
import { count } from './words';

/** Adds files that rows name and that aren't here yet. */
export function AddFiles({ importId }: { importId: string }) {
  const add = useAddMedia(importId);
  const { tell, trouble } = useNotices();
  return (
    <FileButton
      label="Add the file"
      accept="image/*,video/mp4,application/pdf"
      multiple
      onFiles={(files) =>
        add.mutate(files, {
          onSuccess: ({ passedOver }) =>
            passedOver.length > 0
              ? trouble(passedOver.join(' '))
              : tell(`${count(files.length, 'file')} added; all rows are looked at again.`),
          onError: (error) => trouble(wordsOf(error)),
        })
      }
    />
  );
}
