package plenzo.packages;

import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.digest.Digest;
import plenzo.core.history.Anchor;
import plenzo.core.json.Json;
import plenzo.core.manual.ManualStep;
import plenzo.core.records.RowsPolicy;
import plenzo.core.version.Need;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;

/**
 * What a package holds, as canonical JSON: the version with its statement, every component with the
 * digest and size of its content, and the bill of materials. The same version gives the same bytes.
 *
 * @param applicationId permanent identity of the application
 * @param space its name space
 * @param sizes bytes of each component's canonical content, in the order of the version's entries
 * @param anchor the history's head when it was first built; null in packages of format 1
 * @param bom digest (plain SHA-256) and size of the bill of materials
 */
public record Manifest(
    String applicationId,
    String applicationName,
    String space,
    Version version,
    List<Long> sizes,
    Digest bom,
    long bomSize,
    @Nullable Anchor anchor) {
  /**
   * The newest format that this code writes; newer ones are refused. 2 names the history, 3 has
   * work by hand, 4 says what is done to other rows of a site and which columns had another name, 5
   * what values are worked out from.
   */
  static final int FORMAT = 5;

  static final String NAME = "manifest.json";
  static final String BOM = "bom.json";
  static final String ENVELOPE = "envelope.json";
  static final String CONTENT = "content/";

  public Manifest {
    sizes = List.copyOf(sizes);
    if (sizes.size() != version.entries().size()) {
      throw new IllegalArgumentException("A size belongs to each component");
    }
  }

  /** "fares-2.4.0.zip". */
  public String fileName() {
    return version.application() + "-" + version.number() + ".zip";
  }

  /** Bytes of all contents, each counted once. */
  public long bytes() {
    long sum = 0;
    java.util.Set<Digest> seen = new java.util.HashSet<>();
    for (int n = 0; n < sizes.size(); n++) {
      if (seen.add(version.entries().get(n).content())) {
        sum += sizes.get(n);
      }
    }
    return sum;
  }

  /** The lowest that says what it says: an earlier reader refuses what it does not know. */
  private int format() {
    boolean toldMore =
        version.entries().stream()
            .anyMatch(e -> !e.renamed().isEmpty() || e.policy() != RowsPolicy.ADD_AND_CHANGE);
    boolean worksOut =
        version.entries().stream()
            .anyMatch(e -> !e.conversions().isEmpty() || !e.conversionsBack().isEmpty());
    return worksOut
        ? FORMAT
        : toldMore ? 4 : !version.manual().isEmpty() ? 3 : anchor == null ? 1 : 2;
  }

  /** Its lists are made while they are written: all of it is never held at once. */
  Json.Obj toJson() {
    return Json.object(
        "format",
        format(),
        "application",
        Json.object(
            "id",
            applicationId,
            "key",
            version.application(),
            "name",
            applicationName,
            "space",
            space),
        "version",
        Json.object(
            "number",
            version.number().text(),
            "parent",
            version.parent() == null ? null : version.parent().text(),
            "digest",
            version.digest().hex(),
            "title",
            version.title(),
            "notes",
            version.notes(),
            "tasks",
            version.tasks().isEmpty() ? null : version.tasks(),
            "author",
            version.author(),
            "sealedAt",
            version.sealedAt().toString(),
            "source",
            version.source(),
            "coverage",
            version.head().coverage().isEmpty() ? null : version.head().coverage()),
        "components",
        Json.each(
            IntStream.range(0, sizes.size()).boxed().toList(),
            n -> component(version.entries().get(n), sizes.get(n))),
        "removals",
        Json.each(version.removals(), r -> Json.of(r.toString())),
        "needs",
        version.needs().isEmpty() ? null : version.needs().stream().map(Need::toString).toList(),
        "order",
        version.order().isEmpty() ? null : version.order().stream().map(Before::toString).toList(),
        "manual",
        version.manual().isEmpty() ? null : Json.each(version.manual(), ManualStep::toJson),
        "bom",
        Json.object("sha256", bom.hex(), "size", bomSize),
        "history",
        anchor == null ? null : anchor.text());
  }

  private static Json component(VersionEntry e, long size) {
    return Json.object(
        "key",
        e.key().toString(),
        "uid",
        e.uid(),
        "content",
        e.content().hex(),
        "size",
        size,
        "options",
        e.options() == null ? null : Json.parse(e.options()),
        "rows",
        e.rows(),
        "origin",
        e.origin());
  }
}
