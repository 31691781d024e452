package plenzo.engine.sealing;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.item.FileHead;
import plenzo.core.json.Json;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Adoption;

/**
 * Writes components as documents in the layout of a repository (docs/formats/repository.md), so
 * that a team can begin from what it has.
 */
public final class Documents {
  /** Bytes of a name that a file can have, with what stands behind it (255 on most disks). */
  private static final int LONGEST = 240;

  private final Tools tools;
  private final Contents contents;
  private final Adoption adoption;
  private final Sources sources;

  public Documents(Tools tools, Contents contents, Adoption adoption, Sources sources) {
    this.tools = tools;
    this.contents = contents;
    this.adoption = adoption;
    this.sources = sources;
  }

  /**
   * What a site holds, as a ZIP file of documents; rows of the tables that versions carry.
   *
   * @return what is there and no document can carry
   */
  public List<String> ofSite(Person by, String application, SiteKey site, OutputStream out) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    Rights.require(by, Right.HAND_OUT, Person.ANY, application); // rows leave with it
    List<VersionEntry> known =
        tools
            .keeper()
            .read(
                kept ->
                    kept.versions().list(application).stream()
                        .max(java.util.Comparator.comparing(VersionHead::number))
                        .flatMap(head -> kept.versions().find(head.ref())))
            .map(Version::entries)
            .orElse(List.of());
    List<VersionEntry> entries = new ArrayList<>();
    List<String> leftOut = new ArrayList<>();
    List<String> unwritten = new ArrayList<>();
    List<Adoption.Candidate> candidates = adoption.candidates(by, application, site).candidates();
    try (var look = sources.open(application, site)) {
      for (Adoption.Candidate c : candidates) {
        if (!c.refusals().isEmpty()) {
          leftOut.add(c.component().toString());
          continue;
        }
        if (isTooLong(c.component())) {
          leftOut.add(c.component().toString());
          unwritten.add(tooLong(c.component()));
          continue;
        }
        entries.add(
            adoption.read(
                look, new Adoption.Pick(c.component(), null, true), "-", site.toString()));
        ComponentKey records = new ComponentKey(Kind.RECORDS, c.component().name());
        known.stream()
            .filter(e -> e.key().equals(records))
            .findFirst()
            .ifPresent(
                e -> {
                  VersionEntry rows =
                      adoption.read(
                          look,
                          new Adoption.Pick(records, e.records(), true),
                          "-",
                          site.toString());
                  if (contents.hasLongValues(rows.content())) {
                    leftOut.add(records.toString());
                    unwritten.add(withLongValues(records));
                  } else {
                    entries.add(rows);
                  }
                });
      }
    }
    write(entries, unwritten, out);
    return leftOut;
  }

  /** A version's components, as a ZIP file of documents: no source is ever lost. */
  public void ofVersion(Person by, String application, SemVer number, OutputStream out) {
    Rights.require(by, Right.HAND_OUT, Person.ANY, application); // rows leave with it
    Version version = tools.keeper().read(kept -> kept.versions().get(application, number));
    String next =
        "Hand out the version's package: plenzo package build " + application + "@" + number;
    for (VersionEntry e : version.entries()) {
      if (e.key().kind() == Kind.RECORDS && contents.hasLongValues(e.content())) {
        throw Problem.stopped("LONG_VALUES", withLongValues(e.key()), next);
      }
      if (isTooLong(e.key())) {
        throw Problem.stopped("LONG_NAME", tooLong(e.key()), next);
      }
    }
    write(version.entries(), List.of(), out);
  }

  /**
   * @param unwritten what no document carries, a sentence each: the file's own comment
   */
  private void write(List<VersionEntry> entries, List<String> unwritten, OutputStream out) {
    try {
      ZipOutputStream zip = new ZipOutputStream(out, StandardCharsets.UTF_8);
      for (VersionEntry e : entries) {
        write(e, zip);
      }
      if (!unwritten.isEmpty()) {
        zip.setComment(String.join("\n", unwritten));
      }
      zip.finish();
    } catch (IOException e) {
      throw new UncheckedIOException("The documents could not be written", e);
    }
  }

  private static String withLongValues(ComponentKey records) {
    return records + " has values of more than 8 MB, which no document carries.";
  }

  /** Whether no file can have its name; the path of a file is one of files already. */
  private static boolean isTooLong(ComponentKey key) {
    return key.kind() != Kind.FILE && key.name().getBytes(StandardCharsets.UTF_8).length > LONGEST;
  }

  private static String tooLong(ComponentKey key) {
    return key + " has a name that is too long for a file.";
  }

  private void write(VersionEntry e, ZipOutputStream zip) throws IOException {
    String name = e.key().name();
    switch (e.key().kind()) {
      case TABLE -> text(zip, "tables/" + name + ".json", pretty(e));
      case RECORDS -> {
        zip.putNextEntry(new ZipEntry("records/" + name + ".csv"));
        try (InputStream in = contents.open(e.content())) {
          in.transferTo(zip);
        }
        zip.closeEntry();
      }
      case INTEGRATION, RULE, FORM ->
          text(zip, "definitions/" + e.key().kind().code() + "/" + name + ".json", pretty(e));
      case TYPE, SEQUENCE, ROUTINE, VIEW, TRIGGER, POLICY ->
          text(zip, "objects/" + e.key().kind().code() + "/" + name + ".json", pretty(e));
      case FILE -> file(e, zip);
    }
  }

  /**
   * The bytes alone; what may be run or is a link is told by a mark that the client understands.
   */
  private void file(VersionEntry e, ZipOutputStream zip) throws IOException {
    try (InputStream in = contents.open(e.content())) {
      java.io.ByteArrayOutputStream line = new java.io.ByteArrayOutputStream();
      for (int b = in.read(); b >= 0 && b != '\n'; b = in.read()) {
        line.write(b);
      }
      FileHead head = FileHead.of(line.toString(StandardCharsets.UTF_8));
      String link = head.link();
      ZipEntry entry = new ZipEntry("files/" + e.key().name());
      entry.setComment(link != null ? "link" : head.executable() ? "executable" : "");
      zip.putNextEntry(entry);
      if (link != null) {
        zip.write(link.getBytes(StandardCharsets.UTF_8));
      } else {
        in.transferTo(zip);
      }
      zip.closeEntry();
    }
  }

  private String pretty(VersionEntry e) {
    StringBuilder out = new StringBuilder();
    pretty(
        Json.parse(new String(contents.small(e.key().kind(), e.content()), StandardCharsets.UTF_8)),
        "",
        out);
    return out.append('\n').toString();
  }

  /** JSON with a line for each member, for people to edit and compare. */
  private static void pretty(Json json, String indent, StringBuilder out) {
    if (json instanceof Json.Obj o && !o.members().isEmpty()) {
      out.append("{\n");
      String before = "";
      for (Map.Entry<String, Json> m : o.members().entrySet()) {
        out.append(before).append(indent).append("  ");
        out.append(Json.of(m.getKey()).canonical()).append(": ");
        pretty(m.getValue(), indent + "  ", out);
        before = ",\n";
      }
      out.append('\n').append(indent).append('}');
    } else if (json instanceof Json.Arr a && !a.items().isEmpty()) {
      out.append("[\n");
      String before = "";
      for (Json item : a.items()) {
        out.append(before).append(indent).append("  ");
        pretty(item, indent + "  ", out);
        before = ",\n";
      }
      out.append('\n').append(indent).append(']');
    } else {
      out.append(json.canonical());
    }
  }

  private static void text(ZipOutputStream zip, String name, String text) throws IOException {
    zip.putNextEntry(new ZipEntry(name));
    zip.write(text.getBytes(StandardCharsets.UTF_8));
    zip.closeEntry();
  }
}
