interface Props {
  label: string;
  accept: string;
  multiple?: boolean;
  onFiles: (files: File[]) => void;
}

/** Looks and works like a button; the browser's own file field lies in it, so that keyboard and screen readers reach it. */
export function FileButton({ label, accept, multiple = false, onFiles }: Props) {
  return (
    <label className="inline-flex cursor-pointer items-center rounded-md border-[1.5px] border-rule-strong bg-leaf px-3 py-1 font-medium outline-offset-2 focus-within:outline-2 focus-within:outline-dawn hover:border-dawn">
      {label}
      <input
        type="file"
        accept={accept}
        multiple={multiple}
        className="sr-only"
        onChange={(event) => {
          onFiles([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
    </label>
  );
}
