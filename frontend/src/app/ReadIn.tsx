import { useState } from "react";
import { Link } from "react-router";

import { api, complaint } from "../api/client";
import type { ErrorBody, TwinOut } from "../api/schema";
import { Button } from "../ui/Button";

/** Read a design's JSON in as a new design. One that the shelf has already, just so, is told first. */
export function ReadIn({
  onRead,
  onWrong,
}: {
  onRead: (id: string) => void;
  onWrong: (wrong: ErrorBody | null) => void;
}) {
  const [twin, setTwin] = useState<{ file: File; of: TwinOut } | null>(null);
  const read = async (file: File, again: boolean) => {
    setTwin(null);
    const form = new FormData();
    form.append("file", file);
    if (again) form.append("again", "true");
    const { data, error, response } = await api.POST("/api/designs/read", { body: form });
    if (data) {
      onWrong(null);
      onRead(data.id);
    } else if (response.status === 409 && "id" in error) {
      onWrong(null);
      setTwin({ file, of: error });
    } else onWrong(complaint(error));
  };
  return (
    <>
      <label className="block text-soft">
        Read in a design.json{" "}
        <input
          type="file"
          accept=".json,application/json"
          className="ml-2 text-ink file:mr-3 file:cursor-pointer file:rounded-[3px] file:border file:border-solid file:border-rule file:bg-leaf file:px-2.5 file:py-1 file:leading-5 hover:file:border-plum hover:file:text-plum"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = ""; // the same file can be chosen again
            if (file) void read(file, false);
          }}
        />
      </label>
      {twin && (
        <div role="alert" className="mt-3 flex flex-wrap items-center gap-2 border-l-2 border-saffron pl-3">
          <span>
            {twin.file.name} is just the design{" "}
            <Link className="underline" to={`/designs/${twin.of.id}/bench`}>
              {twin.of.name}
            </Link>{" "}
            on this shelf. Nothing was read in.
          </span>
          <Button onClick={() => void read(twin.file, true)}>Read it in again</Button>
        </div>
      )}
    </>
  );
}
