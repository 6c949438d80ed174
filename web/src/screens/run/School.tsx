import { Radio, RadioGroup } from "@headlessui/react";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { useWrite } from "../../shell/useWrite";

type Side = Schemas["SideIn"]["side"];

/** Where practitioners disagree: both sides in sight, the one taken remembered for the person, and what would decide. */
export function School({ school, heading: Heading }: { school: Schemas["SchoolOut"]; heading: "h2" | "h3" }) {
  const take = useWrite<Side, unknown>((side) =>
    answer(
      api.PUT("/api/v1/schools/{key}", {
        params: { path: { key: school.key }, header: writeHeaders() },
        body: { side },
      }),
    ),
  );
  const sides: { side: Side; name: string; said: string }[] = [
    { side: "usual", name: "Ubrex", said: school.usual },
    { side: "one", name: "Some", said: school.one },
    { side: "other", name: "Others", said: school.other },
  ];
  // The one that is followed stands first; the others stay in sight.
  sides.sort((one, other) => Number(other.side === school.side) - Number(one.side === school.side));
  return (
    <section className="border-t border-rule pt-2">
      <Heading className="text-body font-[650]">{school.topic}</Heading>
      <RadioGroup
        value={school.side}
        onChange={(side: Side) => take.mutate(side)}
        aria-label={`${school.topic}: whom you follow`}
      >
        {sides.map((row) => (
          <Radio
            as="div"
            key={row.side}
            value={row.side}
            className="flex min-h-11 cursor-pointer items-baseline gap-2 border-l-[3px] border-transparent py-1 pl-2 text-body leading-snug data-checked:border-mark data-checked:bg-well"
          >
            <strong className="w-13 shrink-0">{row.name}</strong>
            <span>{row.said}</span>
          </Radio>
        ))}
      </RadioGroup>
      <p className="text-small text-ink-2">What would decide: {school.test}</p>
      {take.error && (
        <p role="alert" className="text-care font-semibold text-out">
          {take.error.detail}
        </p>
      )}
    </section>
  );
}
