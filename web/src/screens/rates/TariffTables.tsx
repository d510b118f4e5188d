/** A price list read as tables: zones, each service's prices zone by zone, what it adds, takes, covers and refuses. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { PickRow } from "../../ui/PickRow";
import { ServiceTables } from "./ServiceTables";
import { Zones } from "./Zones";

type File = Schemas["TariffFile"];

export function TariffTables({
  file,
  packaging,
  conditions,
}: {
  file: File;
  conditions: Schemas["TariffOut"]["conditions"];
  packaging: Schemas["PackagingState"][];
}) {
  const [shown, setShown] = useState(0);
  const service = file.services[Math.min(shown, file.services.length - 1)];
  return (
    <>
      <PickRow
        className="mt-2 flex flex-wrap gap-x-5"
        label="Services"
        value={String(shown)}
        options={[
          ...file.services.map((one, index) => ({ value: String(index), text: one.name })),
          { value: String(file.services.length), text: "Zones and packaging" },
        ]}
        onPick={(value) => setShown(Number(value))}
      />
      {shown === file.services.length ? (
        <Zones file={file} packaging={packaging} />
      ) : service ? (
        <ServiceTables service={service} conditions={conditions[service.code] ?? {}} />
      ) : null}
    </>
  );
}
