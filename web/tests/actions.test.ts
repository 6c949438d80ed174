import { expect, test } from "vitest";
import { type Action, keysOf, offered, WAYS } from "../src/screens/run/actions";

const ALL = Object.keys(WAYS) as Action[];
const doers = Object.fromEntries(ALL.map((action) => [action, () => undefined]));
const keys = (actions: Action[]) => keysOf(actions, doers).map((row) => row.key);

test("there are keys for what is offered and done here, and for nothing else", () => {
  expect(keysOf([], doers)).toEqual([]);
  expect(keysOf(["apply", "keep"], { keep: () => undefined }).map((row) => row.key)).toEqual(["K"]);
  expect(offered(["skip", "leave"], { leave: () => undefined })).toEqual(["leave"]);
});

test("no key stands for two things, whatever is offered together", () => {
  const found = keys(ALL);
  expect(new Set(found).size).toBe(found.length);
});

test("where a band can be taken out, X does that, and striking a reading out has a key of its own", () => {
  expect(keys(["strike"])).toEqual(["X"]);
  expect(keys(["strike", "band_out"])).toEqual(["X", "R"]);
});

test("a key that the screen has given away already is not given again", () => {
  const taken = [{ key: "P", label: "", run: () => undefined }];
  expect(keysOf(["photos"], doers, taken)).toEqual([]);
});
