package plenzo.packages;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.version.Need;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;

/**
 * What a package holds, as canonical JSON: the version with its statement, every component with the
 * digest and size of its content, and the bill of materials. The same version gives the same bytes.
 *
 * @param applicationId permanent identity of the application
 * @param space its name space
 * @param sizes bytes of each component's canonical content, in the order of the version's entries
 * @param bom digest (plain SHA-256) and size of the bill of materials
 */
public record Manifest(
    String applicationId,
    String applicationName,
    String space,
    Version version,
    List<Long> sizes,
    Digest bom,
    long bomSize) {
  /** The format that this code writes; newer ones are refused. */
  static final int FORMAT = 1;

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

  Json.Obj toJson() {
    List<Json> components = new ArrayList<>();
    for (int n = 0; n < version.entries().size(); n++) {
      VersionEntry e = version.entries().get(n);
      components.add(
          Json.object(
              "key",
              e.key().toString(),
              "uid",
              e.uid(),
              "content",
              e.content().hex(),
              "size",
              sizes.get(n),
              "options",
              e.options() == null ? null : Json.parse(e.options()),
              "rows",
              e.rows(),
              "origin",
              e.origin()));
    }
    return Json.object(
        "format",
        FORMAT,
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
            version.source()),
        "components",
        components,
        "removals",
        version.removals().stream().map(Removal::toString).toList(),
        "needs",
        version.needs().isEmpty() ? null : version.needs().stream().map(Need::toString).toList(),
        "order",
        version.order().isEmpty() ? null : version.order().stream().map(Before::toString).toList(),
        "bom",
        Json.object("sha256", bom.hex(), "size", bomSize));
  }

  /**
   * @throws PackageRefused when it is no manifest of a known format, or contradicts itself
   */
  static Manifest of(String text) {
    try {
      if (!(Json.parse(text) instanceof Json.Obj j)) {
        throw new PackageRefused("The manifest is no JSON object.");
      }
      if (!(j.find("format") instanceof Json.Num format)) {
        throw new PackageRefused("The manifest names no format.");
      }
      if (format.value() > FORMAT) {
        throw new PackageRefused(
            "The package has format "
                + format.value()
                + "; this Plenzo reads formats up to "
                + FORMAT
                + ".");
      }
      Manifest m = of(j);
      if (!m.toJson().canonical().equals(text)) {
        throw new PackageRefused("The manifest is not in its canonical form.");
      }
      return m;
    } catch (IllegalArgumentException
        | NullPointerException
        | ClassCastException
        | java.time.DateTimeException e) {
      throw new PackageRefused("The manifest cannot be read: " + e.getMessage() + ".", e);
    }
  }

  private static Manifest of(Json.Obj j) {
    Json.Obj application = object(j, "application");
    Json.Obj v = object(j, "version");
    List<VersionEntry> entries = new ArrayList<>();
    List<Long> sizes = new ArrayList<>();
    @Nullable ComponentKey before = null;
    for (Json item : j.list("components")) {
      Json.Obj c = (Json.Obj) item;
      ComponentKey key = ComponentKey.of(c.text("key"));
      if (before != null && before.compareTo(key) >= 0) {
        throw new PackageRefused("The components of the manifest are not in order.");
      }
      before = key;
      Json options = c.find("options");
      entries.add(
          new VersionEntry(
              key,
              c.text("uid"),
              new Digest(c.text("content")),
              options == null ? null : options.canonical(),
              number(c, "rows"),
              c.text("origin")));
      sizes.add(number(c, "size"));
    }
    List<Removal> removals = j.texts("removals").stream().map(Removal::of).toList();
    List<Need> needs = j.texts("needs").stream().map(Need::of).toList();
    List<Before> order = j.texts("order").stream().map(Before::of).toList();
    String parent = v.findText("parent");
    Version version =
        new Version(
            application.text("key"),
            new SemVer(v.text("number")),
            parent == null ? null : new SemVer(parent),
            new Digest(v.text("digest")),
            entries,
            removals,
            needs,
            order,
            v.text("title"),
            v.text("notes"),
            v.texts("tasks"),
            v.text("author"),
            Instant.parse(v.text("sealedAt")),
            v.text("source"),
            false);
    if (!Version.digest(entries, removals, needs, order).equals(version.digest())) {
      throw new PackageRefused("The digest of the version is not that of its components.");
    }
    Json.Obj bom = object(j, "bom");
    return new Manifest(
        application.text("id"),
        application.text("name"),
        application.text("space"),
        version,
        sizes,
        new Digest(bom.text("sha256")),
        number(bom, "size"));
  }

  private static Json.Obj object(Json.Obj of, String name) {
    return (Json.Obj) Objects.requireNonNull(of.find(name), "no \"" + name + "\"");
  }

  private static long number(Json.Obj of, String name) {
    long value = ((Json.Num) Objects.requireNonNull(of.find(name), "no \"" + name + "\"")).value();
    if (value < 0) {
      throw new IllegalArgumentException("\"" + name + "\" is negative");
    }
    return value;
  }
}
