import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";

import { readAnew } from "./readAnew";

test("a first reading that a change has overtaken is not what stands in the end", async () => {
  const client = new QueryClient();
  const waiting: ((value: string) => void)[] = [];
  const observer = new QueryObserver<string>(client, {
    queryKey: ["record", "1"],
    queryFn: () => new Promise<string>((resolve) => waiting.push(resolve)),
  });
  const stop = observer.subscribe(() => undefined);
  expect(waiting).toHaveLength(1);
  const anew = readAnew(client, ["record", "1"]);
  await new Promise((resolve) => setTimeout(resolve, 0));
  waiting[0]?.("before the change");
  waiting[1]?.("after it");
  await anew;
  expect(client.getQueryData(["record", "1"])).toBe("after it");
  stop();
});
