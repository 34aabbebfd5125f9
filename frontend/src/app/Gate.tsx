import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";

import { api, complaint, onShutOut } from "../api/client";
import { Button } from "../ui/Button";

const linkToken = new URLSearchParams(window.location.search).get("token");

/** Asks for the password where the server wants one; a link that works once opens without. */
export function Gate({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [password, setPassword] = useState("");
  const [said, setSaid] = useState("");
  const session = useQuery({
    queryKey: ["session"],
    staleTime: Infinity,
    queryFn: async () => {
      if (linkToken && window.location.search.includes("token=")) {
        window.history.replaceState(null, "", window.location.pathname);
        const { data, error } = await api.POST("/api/session", { body: { token: linkToken, password: "" } });
        if (data) return data;
        setSaid(complaint(error).message);
      }
      const { data } = await api.GET("/api/session");
      return data ?? { asks: false, inside: true };
    },
  });
  useEffect(() => onShutOut(() => void client.invalidateQueries({ queryKey: ["session"] })), [client]);
  if (!session.data) return null;
  if (session.data.inside) return children;
  return (
    <main className="mx-auto max-w-sm px-6 py-24">
      <h1 className="mb-1 text-3xl">Rhombex</h1>
      <p className="mb-5 text-soft">This server asks for its password.</p>
      <form
        className="flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void api.POST("/api/session", { body: { password, token: "" } }).then(({ data, error }) => {
            setPassword("");
            if (data) {
              client.setQueryData(["session"], data);
              void client.invalidateQueries();
            } else {
              const c = complaint(error);
              setSaid(`${c.message} ${c.do}`);
            }
          });
        }}
      >
        <input
          type="password"
          autoComplete="current-password"
          aria-label="Password"
          value={password}
          onChange={(e) => {
            setPassword(e.target.value);
          }}
          className="min-w-0 flex-1 rounded-[3px] border border-rule bg-leaf px-2.5 py-1"
        />
        <Button kind="main" type="submit">
          Come in
        </Button>
      </form>
      {said && (
        <p role="alert" className="mt-3 text-vermilion">
          {said}
        </p>
      )}
    </main>
  );
}
