import { useState } from "react";

/** A place to drop files on, or to choose them. */
export function DropZone({
  label,
  accept,
  multiple,
  onFiles,
  children,
}: {
  /** What the file chooser is called. */
  label: string;
  accept?: string;
  multiple?: boolean;
  onFiles: (files: File[]) => void;
  children: React.ReactNode;
}) {
  const [over, setOver] = useState(false);
  return (
    <label
      className={`flex cursor-pointer items-center justify-center rounded-[4px] border border-dashed px-4 py-4 text-center focus-within:outline-2 focus-within:outline-plum ${over ? "border-plum bg-plumwash" : "border-slate/60"}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => {
        setOver(false);
      }}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        onFiles([...e.dataTransfer.files]);
      }}
    >
      <span>{children}</span>
      <input
        type="file"
        aria-label={label}
        accept={accept}
        multiple={multiple}
        className="sr-only"
        onChange={(e) => {
          onFiles([...(e.target.files ?? [])]);
          e.target.value = "";
        }}
      />
    </label>
  );
}
