package plenzo.packages;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.UUID;
import java.util.stream.IntStream;
import plenzo.core.component.Kind;
import plenzo.core.json.Json;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;

/** The bill of materials of a version in CycloneDX 1.6, the same bytes for the same version. */
final class Bom {
  private Bom() {}

  static Json of(Version version, List<Long> sizes) {
    return Json.object(
        "bomFormat",
        "CycloneDX",
        "specVersion",
        "1.6",
        "serialNumber",
        "urn:uuid:"
            + UUID.nameUUIDFromBytes(
                (version.ref() + " " + version.digest().hex()).getBytes(StandardCharsets.UTF_8)),
        "version",
        1,
        "metadata",
        Json.object(
            "timestamp",
            version.sealedAt().truncatedTo(java.time.temporal.ChronoUnit.SECONDS).toString(),
            "component",
            Json.object(
                "type",
                "application",
                "bom-ref",
                version.ref(),
                "name",
                version.application(),
                "version",
                version.number().text())),
        "components",
        Json.each(
            IntStream.range(0, sizes.size()).boxed().toList(),
            n -> component(version.entries().get(n), sizes.get(n))));
  }

  private static Json component(VersionEntry e, long size) {
    return Json.object(
        "type",
        e.key().kind() == Kind.FILE ? "file" : "data",
        "bom-ref",
        e.key().toString(),
        "name",
        e.key().toString(),
        "properties",
        List.of(
            property("plenzo:uid", e.uid()),
            property("plenzo:content", e.content().hex()),
            property("plenzo:size", String.valueOf(size))));
  }

  private static Json property(String name, String value) {
    return Json.object("name", name, "value", value);
  }
}
