import { useMutation } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { faultOf } from "../actions/useAction";
import { labels } from "../api/labels";
import { Button } from "../ui/Button";
import { Field, fileLook } from "../ui/Field";
import { RadioGroup } from "../ui/RadioGroup";
import { capital, counted, listed } from "../ui/words";
import { useLenders, type SiteLook, type WantedLogo } from "./useLook";

type Way = "stays" | "file" | "address" | "site" | "none";
type Picture = Schema["PictureKept"];

/** The logo: as it is, a picture that is kept with the site, that of another site, or a linked one; how long each lasts. */
export function LogoChoice(props: {
  look: SiteLook;
  wanted: WantedLogo | null;
  onChoose: (logo: WantedLogo | null) => void;
}) {
  const { look, wanted, onChoose } = props;
  const [way, setWay] = useState<Way>("stays");
  const can = (source: Schema["LogoSource"]) => look.logos.includes(source);
  const choices: { value: Way; shown: string }[] = [
    { value: "stays", shown: "As it is" },
    ...(can("kept-with-site")
      ? [{ value: "file" as const, shown: "A picture from this computer: kept with the site" }]
      : []),
    ...(can("kept-with-site") || can("linked")
      ? [{ value: "address" as const, shown: "A picture from the web: a copy kept with the site, or a link" }]
      : []),
    ...(can("borrowed") ? [{ value: "site" as const, shown: `The logo of another site at ${look.host}` }] : []),
    ...(look.logo.source === null ? [] : [{ value: "none" as const, shown: "No logo" }]),
  ];
  return (
    <fieldset className="mt-4">
      <legend className="font-semibold">Logo</legend>
      <Now look={look} />
      <RadioGroup
        value={way}
        choices={choices}
        onChoose={(chosen) => {
          setWay(chosen);
          onChoose(chosen === "none" ? { source: null, picture: null, site: null, link: null } : null);
        }}
      />
      {way === "file" && <FromFile onChoose={onChoose} />}
      {way === "address" && <FromAddress look={look} wanted={wanted} onChoose={onChoose} />}
      {way === "site" && <FromSite look={look} onChoose={onChoose} />}
    </fieldset>
  );
}

function Now({ look }: { look: SiteLook }) {
  const { source, isKnown, link, from, fromInAttic, picture } = look.logo;
  return (
    <>
      <p className="mt-1 flex items-center gap-3">
        {picture && (
          <img src={`/api/pictures/${picture}`} alt="" className="max-h-12 rounded-[3px] border border-rule" />
        )}
        <span>
          Now: {source === null ? (isKnown ? "none" : "not reported") : labels.LogoSource[source]}
          {from && (
            <>
              ,{" "}
              <Link to="/sites/$site" params={{ site: from.id.toString() }} className="underline">
                <bdi>{from.title}</bdi>
              </Link>
            </>
          )}
          {link && (
            <>
              , <span className="font-address text-[13px] break-all">{link}</span>
            </>
          )}
          .
        </span>
      </p>
      {fromInAttic && <p className="text-madder">That site is no longer in use, so no logo is shown.</p>}
      {look.borrowers.length + look.hiddenBorrowers > 0 && (
        <p className="text-ochre">
          {look.borrowers.length > 0 && <bdi>{listed(look.borrowers.map(({ title }) => title))}</bdi>}
          {look.hiddenBorrowers > 0 &&
            `${look.borrowers.length > 0 ? " and " : ""}${counted(look.hiddenBorrowers, "site")} outside your scope`}{" "}
          {look.borrowers.length + look.hiddenBorrowers === 1 ? "shows" : "show"} this logo too.
        </p>
      )}
    </>
  );
}

const kept = (picture: Picture): WantedLogo => ({
  source: "kept-with-site",
  picture: picture.hash,
  site: null,
  link: null,
});

function FromFile({ onChoose }: { onChoose: (logo: WantedLogo | null) => void }) {
  const send = useMutation({
    mutationFn: (file: File) =>
      ok(
        api.PUT("/api/pictures", {
          body: file as unknown as string,
          bodySerializer: (body: unknown) => body as File,
          headers: { "Content-Type": file.type || "application/octet-stream" },
        }),
      ),
    onSuccess: (picture) => onChoose(kept(picture)),
    onError: () => onChoose(null),
  });
  return (
    <div className="mt-2 border-l border-rule pl-3">
      <label className="block font-semibold">
        Picture
        <input
          type="file"
          accept="image/png,image/jpeg,image/gif,image/webp"
          className={fileLook}
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) send.mutate(file);
          }}
        />
      </label>
      <p className="text-[13px] text-second">
        PNG, JPEG, GIF or WebP of at most 2 MB. It is made at most 256 pixels wide and high.
      </p>
      <Result picture={send.data} error={send.error} isWaiting={send.isPending} />
    </div>
  );
}

function FromAddress(props: {
  look: SiteLook;
  wanted: WantedLogo | null;
  onChoose: (logo: WantedLogo | null) => void;
}) {
  const { look, wanted, onChoose } = props;
  const [address, setAddress] = useState("");
  const fetch = useMutation({
    mutationFn: () => ok(api.POST("/api/pictures/fetch", { body: { address } })),
    onSuccess: (picture) => onChoose(look.logos.includes("kept-with-site") ? kept(picture) : linked(address)),
    onError: () => onChoose(null),
  });
  const picture = fetch.data;
  return (
    <div className="mt-2 border-l border-rule pl-3">
      <Field
        label="Address of the picture"
        value={address}
        maxLength={500}
        placeholder="https://"
        onChange={(event) => {
          setAddress(event.target.value);
          fetch.reset();
          onChoose(null);
        }}
        hint="It is fetched once from here, to see whether it can be reached and is a picture."
      />
      <Button className="mt-2" disabled={address.trim() === "" || fetch.isPending} onClick={() => fetch.mutate()}>
        {fetch.isPending ? "Fetching …" : "Fetch it"}
      </Button>
      <Result picture={picture} error={fetch.error} isWaiting={fetch.isPending} />
      {picture && look.logos.includes("kept-with-site") && look.logos.includes("linked") && (
        <RadioGroup
          value={wanted?.source ?? null}
          choices={[
            {
              value: "kept-with-site" as const,
              shown: "Keep this copy with the site: it stays as long as the site does",
            },
            { value: "linked" as const, shown: "Link to it: it can vanish or become another picture without notice" },
          ]}
          onChoose={(source) => onChoose(source === "linked" ? linked(address) : kept(picture))}
        />
      )}
    </div>
  );
}

const linked = (address: string): WantedLogo => ({ source: "linked", picture: null, site: null, link: address.trim() });

function Result({
  picture,
  error,
  isWaiting,
}: {
  picture: Picture | undefined;
  error: Error | null;
  isWaiting: boolean;
}) {
  return (
    <div aria-live="polite">
      {isWaiting && <p className="mt-2 text-second">…</p>}
      {error && (
        <p role="alert" className="mt-2 text-madder">
          {faultOf(error).reasons.join(" ")}
        </p>
      )}
      {picture && (
        <p className="mt-2 flex items-center gap-3">
          <img
            src={`/api/pictures/${picture.hash}`}
            alt="The new logo"
            className="max-h-16 rounded-[3px] border border-rule"
          />
          {picture.width} × {picture.height} pixels
        </p>
      )}
    </div>
  );
}

function FromSite({ look, onChoose }: { look: SiteLook; onChoose: (logo: WantedLogo | null) => void }) {
  const [text, setText] = useState("");
  const [chosen, setChosen] = useState<number | null>(null);
  const found = useLenders(look.host, text);
  const lines = (text.trim().length >= 2 ? (found.data?.lines ?? []) : []).filter((line) => line.id !== look.site);
  return (
    <div className="mt-2 border-l border-rule pl-3">
      <Field
        label="Name of the other site"
        value={text}
        autoComplete="off"
        onChange={(event) => {
          setText(event.target.value);
          setChosen(null);
          onChoose(null);
        }}
        hint={`${capital("sites")} at ${look.host} that keep a logo of their own.`}
      />
      <RadioGroup
        value={chosen}
        choices={lines.map((line) => ({
          value: line.id,
          shown: (
            <span>
              <bdi>{line.title}</bdi> <span className="font-address text-[12.5px] text-second">{line.address}</span>
            </span>
          ),
        }))}
        onChoose={(site) => {
          setChosen(site);
          onChoose({ source: "borrowed", picture: null, site, link: null });
        }}
        note={
          text.trim().length >= 2 && found.data && lines.length === 0
            ? "No such site keeps a logo of its own."
            : undefined
        }
      />
    </div>
  );
}
