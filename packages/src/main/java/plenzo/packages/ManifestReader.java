package plenzo.packages;

import java.io.IOException;
import java.io.InputStream;
import java.time.DateTimeException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.history.Anchor;
import plenzo.core.json.Json;
import plenzo.core.manual.ManualStep;
import plenzo.core.version.Need;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;

/**
 * Reads a manifest component by component. What is wrong with a component waits until the format is
 * known, because the canonical order puts the components first and a newer format may write them
 * otherwise. One thread, one manifest.
 */
final class ManifestReader {
  private static final int MOST_LINES = 50;
  private static final int LONGEST_LINE = 2000;

  /** Components, and parts to remove: a million each, as many as a package has entries. */
  private static final int MOST = 1_000_000;

  /** Characters of one component, and of everything but components and removals (guess). */
  private static final int LONGEST = 4 << 20;

  private final List<VersionEntry> entries = new ArrayList<>();
  private final List<Long> sizes = new ArrayList<>();
  private final List<Removal> removals = new ArrayList<>();
  private final Map<String, String> origins = new HashMap<>();
  private @Nullable ComponentKey before;
  private @Nullable RuntimeException wrong;

  private ManifestReader() {}

  /**
   * @throws PackageRefused when it is no manifest of a known format, or contradicts itself
   */
  static Manifest read(InputStream in) throws IOException {
    try {
      return new ManifestReader().manifest(in);
    } catch (IllegalArgumentException
        | NullPointerException
        | ClassCastException
        | DateTimeException e) {
      throw PackageRefused.unread("The manifest", e);
    }
  }

  private Manifest manifest(InputStream in) throws IOException {
    Map<String, Consumer<Json>> lists =
        Map.of("components", kept(this::component), "removals", kept(this::removal));
    if (!(Json.parse(in, lists, LONGEST) instanceof Json.Obj j)) {
      throw new PackageRefused("The manifest is no JSON object.");
    }
    if (!(j.find("format") instanceof Json.Num format)) {
      throw new PackageRefused("The manifest names no format.");
    }
    if (format.value() > Manifest.FORMAT) {
      throw new PackageRefused(
          "The package has format "
              + format.value()
              + "; this Plenzo reads formats up to "
              + Manifest.FORMAT
              + ".");
    }
    if (wrong != null) {
      throw wrong;
    }
    Json.Obj application = object(j, "application");
    Json.Obj bom = object(j, "bom");
    return new Manifest(
        application.text("id"),
        application.text("name"),
        application.text("space"),
        version(j, application.text("key")),
        sizes,
        new Digest(bom.text("sha256")),
        number(bom, "size"),
        j.findText("history") == null ? null : Anchor.of(j.text("history")));
  }

  /** The first thing that is wrong is kept, and nothing is read after it. */
  private Consumer<Json> kept(Consumer<Json> reading) {
    return item -> {
      if (wrong == null) {
        try {
          reading.accept(item);
        } catch (RuntimeException e) {
          wrong = e;
        }
      }
    };
  }

  private Version version(Json.Obj j, String application) {
    Json.Obj v = object(j, "version");
    List<Need> needs = j.texts("needs").stream().map(Need::of).toList();
    List<Before> order = j.texts("order").stream().map(Before::of).toList();
    String parent = v.findText("parent");
    Version version =
        Version.of(
            application,
            new SemVer(v.text("number")),
            parent == null ? null : new SemVer(parent),
            entries,
            removals,
            needs,
            order,
            j.list("manual").stream().map(m -> ManualStep.of((Json.Obj) m)).toList(),
            v.text("title"),
            v.text("notes"),
            v.texts("tasks"),
            v.text("author"),
            Instant.parse(v.text("sealedAt")),
            v.text("source"));
    if (!version.digest().hex().equals(v.text("digest"))) {
      throw new PackageRefused("The digest of the version is not that of its components.");
    }
    return version.covering(coverage(v));
  }

  /** For people alone: a line each, and no more of them than there are sorts of components. */
  private static List<String> coverage(Json.Obj v) {
    List<String> lines = v.texts("coverage");
    if (lines.size() > MOST_LINES || lines.stream().anyMatch(l -> l.length() > LONGEST_LINE)) {
      throw new PackageRefused("The manifest says too much about what its version covers.");
    }
    return lines;
  }

  private void component(Json item) {
    if (entries.size() == MOST) {
      throw new PackageRefused("The manifest has more than " + MOST + " components.");
    }
    Json.Obj c = (Json.Obj) item;
    ComponentKey key = ComponentKey.of(c.text("key"));
    if (before != null && before.compareTo(key) >= 0) {
      throw new PackageRefused("The components of the manifest are not in order.");
    }
    before = key;
    Json options = c.find("options");
    VersionEntry entry =
        new VersionEntry(
            key,
            c.text("uid"),
            new Digest(c.text("content")),
            options == null ? null : options.canonical(),
            number(c, "rows"),
            origins.computeIfAbsent(c.text("origin"), o -> o));
    entry.places(); // refused here, not when it is compared with a site
    requireExpressions(entry);
    entries.add(entry);
    sizes.add(number(c, "size"));
  }

  /**
   * What values are worked out from is written into statements: it is looked at before all else.
   */
  private static void requireExpressions(VersionEntry entry) {
    try {
      entry.conversions();
      entry.conversionsBack();
    } catch (IllegalArgumentException e) {
      throw new PackageRefused(
          "What columns of " + entry.key() + " are worked out from: " + e.getMessage() + ".");
    }
  }

  private void removal(Json item) {
    if (removals.size() == MOST) {
      throw new PackageRefused("The manifest has more than " + MOST + " removals.");
    }
    removals.add(Removal.of(((Json.Str) item).value()));
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
