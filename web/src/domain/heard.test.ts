import { expect, it } from "vitest";
import { answerHeard } from "./heard";

const NOSE = ["rears up", "nose rises", "holds", "nose sinks", "drops away fast"].map((words) => ({ words }));
const WING = ["left wing", "right wing", "mushes, wings level"].map((words) => ({ words }));

it.each([
  [NOSE, "nose rises", "nose rises"],
  [NOSE, "It drops away fast!", "drops away fast"],
  [NOSE, "sinks", "nose sinks"],
  [NOSE, "holds", "holds"],
  [WING, "the left wing", "left wing"],
  [WING, "mushes", "mushes, wings level"],
])("takes of %j what was said: %s", (answers, heard, words) => {
  expect(answerHeard(answers, heard)?.words).toBe(words);
});

it.each([
  ["nose", NOSE, "two begin so"],
  ["nose rises no nose sinks", NOSE, "two in one breath"],
  ["wing", WING, "neither side"],
  ["rise", NOSE, "half a word"],
  ["what a day", NOSE, "no answer"],
  ["", NOSE, "nothing"],
] as const)("takes nothing of %j: a wrong answer is worse than a tap", (heard, answers, _why) => {
  expect(answerHeard(answers, heard)).toBeNull();
});
