import { expect, test } from "vitest";

import type { PracticeVerdict } from "../../api/client";
import cases from "./cases.json";
import { type Given, judge, type Task } from "./judge";

interface Case {
  round: { id: string; task: Task };
  answers: (PracticeVerdict & { given: Given })[];
}

const rows = (cases as unknown as Case[]).flatMap(({ round, answers }) =>
  answers.map((answer, at) => ({ name: `${round.id} answer ${at}`, task: round.task, answer })),
);

test.each(rows)("$name is judged as the core judges it", ({ task, answer }) => {
  const { right, told } = judge(task, answer.given);
  expect(told).toEqual(answer.told);
  expect(right).toBe(answer.right);
});

test("the cases hold what is right, what is wrong, and what is not decided yet", () => {
  const told = rows.flatMap((row) => row.answer.told.map((each) => each.right));
  expect(new Set(told)).toEqual(new Set([true, false, null]));
});
