/** Choices that several forms offer; their values are the API's. */

export const RUNAWAY = [
  { value: "unknown", text: "Nobody knows" },
  { value: "maker_says", text: "The maker says so" },
  { value: "tested", text: "Yes, tested as the maker says" },
] as const;

export const LINERS = [
  { value: "unknown", text: "Nobody knows" },
  { value: "lined", text: "In the hot zone" },
  { value: "above", text: "Above the hot zone" },
  { value: "all_metal", text: "There is none: all metal" },
] as const;
