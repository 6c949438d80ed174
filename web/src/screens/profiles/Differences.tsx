import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Figure } from "../../instrument/Figure";
import { GaugeStrip } from "../../instrument/GaugeStrip";
import { OriginGlyph } from "../../instrument/Glyph";
import { dayOf } from "../../shell/dates";

type Props = { history: Schemas["HistoryOut"]; left: number; right: number };

/** What differs between two revisions: is it real, and would one see it? And what each value rests on. */
export function Differences({ history, left, right }: Props) {
  const same =
    left === right ? [] : history.differences.filter((row) => row.left && row.left.id === row.right?.id);
  const told = history.differences.filter((row) => !same.includes(row));
  return (
    <div className="px-3 py-3 desk:px-6">
      <h1 className="mb-2 text-cell">
        {left === right ? `Revision ${right}` : `From revision ${left} to ${right}`}
      </h1>
      <ul className="border-t-2 border-ink">
        {told.map((row) => (
          <li
            key={row.kind}
            className="grid gap-x-6 gap-y-3 border-b border-rule py-3 wide:grid-cols-[9rem_1fr_11rem_1fr]"
          >
            <h2 className="text-name">{row.name}</h2>
            {row.left && left !== right ? (
              <Side title={`${left} before`} value={row.left} />
            ) : (
              <span className="hidden wide:block" />
            )}
            <div>
              {row.strip && <GaugeStrip strip={row.strip} size="inline" />}
              {left !== right && (
                <>
                  <p className="mt-1 text-cell font-[650]">{row.change}</p>
                  <p className="text-body">
                    <strong>{row.real_sentence}</strong>
                  </p>
                  <p className="text-body text-ink-2">{row.visible_sentence}</p>
                </>
              )}
            </div>
            {row.right && (
              <Side
                title={`${right}${right === history.revisions[0]?.number ? " now" : ""}`}
                value={row.right}
              />
            )}
          </li>
        ))}
      </ul>
      {same.length > 0 && (
        <section className="mt-3">
          <h2 className="mb-1 text-name">The same in both</h2>
          <ul className="gap-x-8 desk:columns-2 wide:columns-3">
            {same.map((row) => (
              <li key={row.kind} className="flex items-baseline gap-3 border-b border-rule py-1 text-body">
                <span className="min-w-0 flex-1">{row.name}</span>
                {row.right && (
                  <Figure
                    text={row.right.text}
                    halfWidth={row.right.half_width_text}
                    unit={row.right.unit_text}
                  />
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function Side({ title, value }: { title: string; value: Schemas["ValueOut"] }) {
  const { provenance } = value;
  return (
    <div className="min-w-0">
      <p className="text-small text-ink-2">
        {title}, {dayOf(value.at)}
      </p>
      <p className="text-cell">
        <Figure text={value.text} halfWidth={value.half_width_text} unit={value.unit_text} />
      </p>
      <dl className="mt-1 text-body text-ink-2">
        <Row name="Set to" value={value.setting} />
        <div className="flex gap-2">
          <dt>
            <OriginGlyph origin={provenance.origin} />
            <span className="sr-only">Origin</span>
          </dt>
          <dd>
            {provenance.run_id ? (
              <Link className="link" to={`/runs/${provenance.run_id}`}>
                {provenance.sentence}
              </Link>
            ) : (
              provenance.sentence
            )}
          </dd>
        </div>
        {provenance.readings && <Row name="Readings" value={provenance.readings} />}
        {provenance.instrument && <Row name="Tool" value={provenance.instrument} />}
        {provenance.rule_version && <Row name="Rule" value={provenance.rule_version} />}
        <Row name="By" value={value.person} />
        {value.read_back.sentence && <Row name="On the machine" value={value.read_back.sentence} />}
      </dl>
      {provenance.note && <p className="note mt-1">{provenance.note}</p>}
    </div>
  );
}

function Row({ name, value }: { name: string; value: string }) {
  return (
    <div className="flex gap-2">
      <dt className="shrink-0">{name}</dt>
      <dd className="min-w-0 text-ink">{value}</dd>
    </div>
  );
}
