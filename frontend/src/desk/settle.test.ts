import { QueryClient } from "@tanstack/react-query";
import { expect, test, vi } from "vitest";

import { api } from "../api/client";
import type { StateOut } from "../api/schema";
import { settle } from "./desk";

const state = (version: number, printer: string) =>
  ({ id: "wren", version, view: { printer: { name: printer } } }) as unknown as StateOut;

/** A client that shows `before`, an answer on its way, and what was shown in the end. */
async function settled(before: StateOut, answer: StateOut, meanwhile?: StateOut) {
  const client = new QueryClient();
  client.setQueryData(["design", "wren"], before);
  vi.spyOn(api, "GET").mockImplementation((() => {
    if (meanwhile) client.setQueryData(["design", "wren"], meanwhile);
    return Promise.resolve({ data: answer });
  }) as unknown as typeof api.GET);
  const asked = client.getQueryData<StateOut>(["design", "wren"])!;
  await settle(client, asked, new AbortController().signal);
  return client.getQueryData<StateOut>(["design", "wren"])!.view.printer.name;
}

test("settled hours take the place of the state they were asked for", async () => {
  expect(await settled(state(3, "rough"), state(3, "settled"))).toBe("settled");
});

test("a workshop that changed meanwhile is not forgotten", async () => {
  expect(await settled(state(3, "rough"), state(3, "settled"), state(3, "measured"))).toBe("measured");
});

test("hours of another version are left", async () => {
  expect(await settled(state(3, "rough"), state(2, "settled"))).toBe("rough");
});

test("an answer that does not come leaves what is shown", async () => {
  const client = new QueryClient();
  client.setQueryData(["design", "wren"], state(3, "rough"));
  vi.spyOn(api, "GET").mockRejectedValue(new Error("away"));
  const asked = client.getQueryData<StateOut>(["design", "wren"])!;
  await settle(client, asked, new AbortController().signal);
  expect(client.getQueryData<StateOut>(["design", "wren"])!.view.printer.name).toBe("rough");
});
