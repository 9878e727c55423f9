import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link, useParams } from "react-router";
import { api, data, type Kinds as KindsData } from "../api/client";
import { NumberField, SelectField, TextField } from "../shared/fields";
import { decimalOf } from "../shared/numbers";
import { LoadError, Loading } from "../shared/states";
import { useKinds } from "../shared/useKinds";
import { useSession } from "../signin/session";
import { ReturnSettings } from "./ReturnSettings";
import { SheetButtons, SheetHead } from "./SheetParts";
import { useSheet } from "./useSheet";

type Kind = KindsData["checks"][number]["kind"];

interface Row {
  id: string;
  kind: Kind;
  name: string;
  fails: string;
  condition?: "cold" | "warm";
  figures: Record<string, string>;
}

type Check = Record<string, unknown>;

function figuresOf(kind: Kind, kinds: KindsData) {
  return kinds.checks.find((check) => check.kind === kind)?.figures ?? [];
}

const LIMITS = ["minutes", "hours", "rest_c", "most_c", "load_watts", "memory_mib", "width", "gt_per_s"];

function rowOf(check: Check): Row {
  const figures = Object.fromEntries(
    LIMITS.filter((name) => check[name] !== undefined).map((name) => [name, String(check[name])]),
  );
  return {
    id: String(check.id),
    kind: check.kind as Kind,
    name: String(check.name),
    fails: String(check.fails),
    ...(check.condition ? { condition: check.condition as "cold" } : {}),
    figures,
  };
}

function checkOf(row: Row, kinds: KindsData): Check {
  const asked = figuresOf(row.kind, kinds).map((figure) => figure.name);
  // what is no number goes as it was typed: the server says where it stands
  const figures = Object.fromEntries(
    asked
      .filter((name) => row.figures[name]?.trim())
      .map((name) => {
        const text = row.figures[name] ?? "";
        const number = decimalOf(text);
        return [name, Number.isNaN(number) ? text : number];
      }),
  );
  const condition = row.kind === "memory" ? { condition: row.condition ?? "cold" } : {};
  return {
    id: row.id,
    kind: row.kind,
    name: row.name.trim(),
    fails: row.fails.trim(),
    ...condition,
    ...figures,
  };
}

/** The proof protocol of the shop, or of one model: which checks, in which order, how long, and what fails them. */
export function ProtocolPage() {
  const { slug } = useParams();
  const kinds = useKinds();
  const session = useSession();
  const lead = session.data?.person?.role === "lead";
  const editing = useSheet({
    key: ["protocol", slug ?? ""],
    get: async () => {
      if (slug === undefined) {
        const saved = data(await api.GET("/api/v1/proof-protocol"));
        return { edition: 0, head: null, document: saved.document };
      }
      const saved = data(await api.GET("/api/v1/board-models/{slug}/proof", { params: { path: { slug } } }));
      return { edition: saved.head.edition, head: saved.head, document: saved.document };
    },
    rowsOf: (saved): Row[] => ((saved.document as { checks: Check[] }).checks ?? []).map(rowOf),
    put: async (rows, edition) => {
      const document = { checks: rows.map((row) => checkOf(row, kinds)) };
      if (slug === undefined) {
        const saved = data(await api.PUT("/api/v1/proof-protocol", { body: { document } }));
        return { edition: 0, head: null, document: saved.document };
      }
      const params = { path: { slug } };
      const saved = data(
        await api.PUT("/api/v1/board-models/{slug}/proof", { params, body: { document, base: edition } }),
      );
      return { edition: saved.head.edition, head: saved.head, document: saved.document };
    },
  });
  const { sheet, rows, edit } = editing;
  if (sheet.isError) return <LoadError problem={sheet.error} again={() => sheet.refetch()} />;
  if (!sheet.data) return <Loading what={t`Reading the protocol`} />;
  const change = (at: number, part: Partial<Row>) =>
    edit(rows.map((row, other) => (other === at ? { ...row, ...part } : row)));
  const move = (at: number, by: number) => {
    const next = [...rows];
    const [row] = next.splice(at, 1);
    if (row) next.splice(at + by, 0, row);
    edit(next);
  };
  const add = () => {
    const names = new Set(rows.map((row) => row.id));
    let number = rows.length + 1;
    while (names.has(`check-${number}`)) number += 1;
    edit([...rows, { id: `check-${number}`, kind: "hand", name: "", fails: "", figures: {} }]);
  };
  return (
    <main className="max-w-5xl space-y-4 p-6" data-testid="protocol">
      {slug !== undefined && sheet.data.head ? (
        <SheetHead title={t`Proof protocol`} slug={slug} head={sheet.data.head} shops />
      ) : (
        <header>
          <Link className="button-plain -ml-2" to="/library">
            <Trans>Library</Trans>
          </Link>
          <h1 className="font-bold text-3xl">
            <Trans>Proof protocol of the shop</Trans>
          </h1>
          <p className="text-soft">
            <Trans>For every model without one of its own. Most checks pass by what was measured.</Trans>
          </p>
        </header>
      )}
      <fieldset disabled={!lead}>
        <legend className="sr-only">
          <Trans>Checks</Trans>
        </legend>
        <ol>
          {rows.map((row, at) => (
            <li key={row.id} className="border-rule border-t py-2" data-check={row.id}>
              <div className="flex flex-wrap items-end gap-3">
                <TextField
                  label={t`check ${at + 1}`}
                  value={row.name}
                  onChange={(name) => change(at, { name })}
                  maxLength={80}
                  wide="w-56"
                />
                <SelectField
                  label={t`kind`}
                  value={row.kind}
                  onChange={(kind) => change(at, { kind })}
                  options={kinds.checks.map((check) => [check.kind, check.words] as const)}
                />
                {row.kind === "memory" && (
                  <SelectField
                    label={t`card`}
                    value={row.condition ?? "cold"}
                    onChange={(condition) => change(at, { condition })}
                    options={[
                      ["cold", t`cold`],
                      ["warm", t`warm`],
                    ]}
                  />
                )}
                {figuresOf(row.kind, kinds).map(({ name, words }) => (
                  <NumberField
                    key={name}
                    label={words}
                    value={row.figures[name] ?? ""}
                    onChange={(value) => change(at, { figures: { ...row.figures, [name]: value } })}
                  />
                ))}
                <TextField
                  label={t`fails with`}
                  value={row.fails}
                  onChange={(fails) => change(at, { fails })}
                />
                {lead && (
                  <span className="flex">
                    <button
                      type="button"
                      className="button-plain"
                      disabled={at === 0}
                      aria-label={`Up: ${row.name}`}
                      onClick={() => move(at, -1)}
                    >
                      <Trans>Up</Trans>
                    </button>
                    <button
                      type="button"
                      className="button-plain"
                      aria-label={t`Leave out: ${row.name}`}
                      onClick={() => edit(rows.filter((_, other) => other !== at))}
                    >
                      <Trans>Leave out</Trans>
                    </button>
                  </span>
                )}
              </div>
            </li>
          ))}
        </ol>
      </fieldset>
      {lead && <SheetButtons add={t`One more check`} onAdd={add} editing={editing} />}
      {slug === undefined && lead && <ReturnSettings />}
    </main>
  );
}
