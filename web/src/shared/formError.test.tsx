import { i18n } from "@lingui/core";
import { I18nProvider } from "@lingui/react";
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { AWAY, Problem } from "../api/client";
import { FormError } from "./FormError";

afterEach(cleanup);
const said = () => screen.getByRole("alert").textContent;
const REFUSED = new Problem(422, "does-not-fit", "found nothing, expected a name", {});

test("why it was not taken, a full stop, and where what was entered is", () => {
  render(
    <I18nProvider i18n={i18n}>
      <FormError problem={REFUSED} />
    </I18nProvider>,
  );
  expect(said()).toBe("found nothing, expected a name. What you entered is kept here.");
});

test("a server that is away says itself where the entry is", () => {
  render(<FormError problem={AWAY} />);
  expect(said()).toBe(AWAY.message);
});

test("nothing is said to be kept where nothing was typed, and nothing at all where nothing was refused", () => {
  render(<FormError problem={REFUSED} plain />);
  expect(said()).toBe("found nothing, expected a name.");
  cleanup();
  render(<FormError problem={null} />);
  expect(screen.queryByRole("alert")).toBeNull();
});
