/** Actions as they are called on the screen. */
export const ACTIONS: Record<string, string> = {
  rerun: "Run it under another condition",
  "measure-lines": "Measure the lines",
  reball: "Reball",
  replace: "Replace",
  "check-supply": "Measure the supply",
  ohms: "Ohms: the rails unpowered",
  volts: "Volts: the rails while it runs",
  "lift-core": "Lift the core",
  recipe: "The tester’s recipe",
};
