import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { isProblem } from "../../api/client";
import { refresh } from "../../api/queries";

/** An empty workshop may be filled from a backup. */
export function RestoreBackup() {
  const queries = useQueryClient();
  const [said, setSaid] = useState("");
  const restore = async (file: File) => {
    setSaid("Reading …");
    const answer = await fetch("/api/v1/backup", {
      method: "POST",
      headers: { "Content-Type": "application/zip" },
      body: file,
    }).catch(() => null);
    if (answer?.ok) await refresh(queries);
    else {
      const problem: unknown = await answer?.json().catch(() => null);
      setSaid(isProblem(problem) ? (problem.fields[0]?.message ?? problem.detail) : "Ubrex does not answer.");
    }
  };
  return (
    <label className="mt-6 block max-w-120 text-body font-semibold">
      Or put a backup back
      <input
        type="file"
        accept=".zip,application/zip"
        className="field mt-1 py-2"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void restore(file);
        }}
      />
      {said && (
        <span role="status" className="mt-1 block text-care text-stale">
          {said}
        </span>
      )}
    </label>
  );
}
