import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { valuesQuery } from "../queries/library";

/** What is known of the value of a part that is burnt or gone; asked for where nobody knows it. */
export function ValueOf({ slug, part }: { slug: string; part: string }) {
  const values = useQuery(valuesQuery(slug));
  const known = values.data?.values.find((value) => value.designator === part);
  const asked = values.data?.wanted.some((entry) => entry.designator === part);
  if (!known && !asked) return null;
  const to = `/stock/values?model=${slug}&part=${encodeURIComponent(part)}`;
  return known ? (
    <Link className="button-plain" to={to}>
      <Trans>
        {part} is {known.best}
        {known.conflicts.length > 0 ? t`, sources disagree` : ""}
      </Trans>
    </Link>
  ) : (
    <Link className="button-plain" to={to}>
      <Trans>Value of {part} not known: note it</Trans>
    </Link>
  );
}
