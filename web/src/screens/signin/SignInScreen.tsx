import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { answer, api, isProblem } from "../../api/client";
import { forgetWhatWasSeen } from "../../api/kept";
import { keys } from "../../api/queries";
import { Field } from "../../shell/Field";
import { StopLink } from "../../shell/StopLink";

/** The passphrase of the workshop, asked for on other devices. */
export function SignInScreen() {
  const queries = useQueryClient();
  const [passphrase, setPassphrase] = useState("");
  const [said, setSaid] = useState<string>();
  useEffect(forgetWhatWasSeen, []);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      queries.setQueryData(keys.session, await answer(api.POST("/api/v1/session", { body: { passphrase } })));
    } catch (error) {
      setSaid(isProblem(error) ? error.detail : "That did not work. Try again.");
    }
  };
  return (
    <main className="flex min-h-dvh flex-col bg-sheet">
      <div className="flex items-center border-b-2 border-ink bg-ground px-3 desk:px-6">
        <span className="py-2 text-verdict font-bold">Ubrex</span>
        <StopLink />
      </div>
      <form onSubmit={submit} className="w-full max-w-120 space-y-4 px-3 py-6 desk:px-6">
        <h1 className="text-step leading-tight">Sign in</h1>
        <Field
          label="Passphrase of this workshop"
          type="password"
          value={passphrase}
          autoFocus
          onChange={setPassphrase}
          problem={said}
          hint="It was set at the machine Ubrex runs on. This device stays signed in for 30 days."
        />
        <button type="submit" className="button button-main w-full">
          Sign in
        </button>
      </form>
    </main>
  );
}
