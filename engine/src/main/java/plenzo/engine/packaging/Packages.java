package plenzo.engine.packaging;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.function.LongConsumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.history.Anchor;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.item.Definition;
import plenzo.core.item.FileHead;
import plenzo.core.item.FilePath;
import plenzo.core.json.Json;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.object.SchemaObject;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.core.retention.Sort;
import plenzo.core.stage.Application;
import plenzo.core.table.TableStructure;
import plenzo.core.trust.Parcel;
import plenzo.core.trust.Signer;
import plenzo.core.version.Need;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.content.Contents;
import plenzo.engine.keeping.Cleared;
import plenzo.engine.people.Rights;
import plenzo.engine.underway.Underway;
import plenzo.engine.underway.Work;
import plenzo.packages.Manifest;
import plenzo.packages.PackageDesk;
import plenzo.packages.PackageFile;
import plenzo.packages.PackageRefused;

/** Builds packages of versions, hands them out, and brings in those of others. */
public final class Packages {
  private static final int LONGEST_STRUCTURE = 4 << 20;

  private final Tools tools;
  private final Contents contents;
  private final PackageDesk desk;
  private final Keys keys;

  public Packages(Tools tools, Contents contents, PackageDesk desk, Keys keys) {
    this.tools = tools;
    this.contents = contents;
    this.desk = desk;
    this.keys = keys;
  }

  /** Those that the person may see, newest first. */
  public Slice<Parcel> list(Person by, Kept.Filter filter) {
    Sight sight = Sight.of(by, Right.LOOK).ofAnyStage();
    return tools.keeper().read(kept -> kept.parcels().slice(filter, sight));
  }

  public Parcel get(Person by, String id) {
    return tools
        .keeper()
        .read(kept -> kept.parcels().find(id))
        .filter(p -> by.may(Right.LOOK, Person.ANY, p.application()))
        .orElseThrow(() -> Problem.notFound("package", id));
  }

  /** Builds a version's package; building it again with the same key gives the same file. */
  public Parcel build(Person by, String application, SemVer number) {
    Rights.require(by, Right.HAND_OUT, Person.ANY, application);
    return tools
        .underway()
        .during(
            Work.Act.BUILD,
            by.login(),
            "version/" + application + "@" + number,
            application,
            () -> built(by, application, number));
  }

  private Parcel built(Person by, String application, SemVer number) {
    Application a = tools.keeper().read(kept -> kept.application(application));
    Version version = tools.keeper().read(kept -> kept.versions().get(application, number));
    String id = "K-" + tools.keeper().<Long>write(kept -> kept.next("package"));
    String file = "package/" + id + ".zip";
    Anchor anchor = anchor(application, number);
    Underway.Progress progress = tools.underway().now();
    progress.of(version.entries().size(), "components");
    PackageFile.Checked written =
        desk.write(
            file,
            new PackageFile.Application(a.id(), a.name(), a.schema(), anchor),
            version,
            tools.keeper().service(),
            keys.signing(),
            new PackageFile.Source() {
              @Override
              public long size(VersionEntry entry) {
                return contents.size(entry.content());
              }

              @Override
              public InputStream open(VersionEntry entry) {
                progress.at(entry.key().toString());
                progress.next();
                return contents.open(entry.content());
              }
            });
    Parcel parcel =
        new Parcel(
            id,
            Parcel.State.BUILT,
            application,
            number.text(),
            written.manifest().fileName(),
            file,
            tools.files().size(file),
            written.manifestDigest().hex(),
            written.signer(),
            "",
            parent(version),
            needs(version),
            version.source(),
            tools.now(),
            by.login(),
            null,
            null,
            anchor,
            0);
    return tools
        .keeper()
        .write(
            kept -> {
              kept.parcels().insert(parcel);
              kept.note(event(by, "package built", parcel, parcel.name()), tools.now());
              return parcel;
            });
  }

  private static @Nullable String parent(Version v) {
    return v.parent() == null ? null : v.parent().text();
  }

  private static List<String> needs(Version v) {
    return v.needs().stream().map(Need::toString).toList();
  }

  /** What a received package waits for here; empty where nothing has to come in before it. */
  public Optional<String> missing(Parcel p) {
    return p.state() == Parcel.State.RECEIVED && p.parent() != null
        ? missing(p.application(), new SemVer(p.number()), new SemVer(p.parent()))
        : Optional.empty();
  }

  /** Why a version could not be compared here. */
  private Optional<String> missing(String application, SemVer number, SemVer parent) {
    boolean there =
        tools
            .keeper()
            .read(
                kept ->
                    kept.versions().head(application + "@" + parent).isPresent()
                        || kept.versions()
                            .slice(Kept.Filter.application(application).most(1))
                            .items()
                            .isEmpty());
    return there
        ? Optional.empty()
        : Optional.of(
            number
                + " was drafted from "
                + parent
                + ", which is not here: nothing could be compared.");
  }

  /** The head when the version's package was first built, so that it is built the same again. */
  private Anchor anchor(String application, SemVer number) {
    return tools
        .keeper()
        .read(
            kept ->
                kept.parcels().list(Kept.Filter.application(application)).stream()
                    .filter(p -> p.state() == Parcel.State.BUILT)
                    .filter(p -> p.number().equals(number.text()))
                    .map(Parcel::anchor)
                    .filter(Objects::nonNull)
                    .reduce((newer, older) -> older)
                    .orElseGet(kept::head));
  }

  private static Event event(Person by, String what, Parcel p, String text) {
    return new Event(
        by.login(),
        what,
        p.application(),
        null,
        null,
        p.number(),
        null,
        null,
        p.id() + ", " + text);
  }

  /** Opens the file to hand it out, and records who took it. The caller closes it. */
  public InputStream handOut(Person by, String id) {
    Parcel p = get(by, id);
    Rights.require(by, Right.HAND_OUT, Person.ANY, p.application());
    Cleared.requireThere(tools, Sort.PACKAGE, p.id());
    tools
        .keeper()
        .write(
            kept -> {
              Parcel now = kept.parcels().find(id).orElseThrow();
              kept.parcels().replace(now.handedOut(tools.now(), by.login()));
              return kept.note(event(by, "package handed out", p, p.name()), tools.now());
            });
    return tools.files().open(p.file(), 0);
  }

  /**
   * A file that was taken in.
   *
   * @param already whether the same package was here before: of this file nothing is kept then
   */
  public record Taken(Parcel parcel, boolean already) {}

  /**
   * Takes in a file and reads all of it; nothing else happens. A file that is no intact package is
   * refused and leaves nothing behind; an intact one by an unknown signer stays, to be looked at.
   *
   * @param length bytes that are said to come, below 0 when nobody said
   */
  public Taken receive(Person by, String name, InputStream bytes, long length) {
    Rights.require(by, Right.BRING_IN, Person.ANY, Person.ANY);
    return tools
        .underway()
        .during(
            Work.Act.RECEIVE, by.login(), "packages", null, () -> takenIn(by, name, bytes, length));
  }

  private Taken takenIn(Person by, String name, InputStream bytes, long length) {
    Underway.Progress progress = tools.underway().now();
    progress.of(Math.max(0, length), "bytes");
    progress.at(safe(name));
    String id = "K-" + tools.keeper().<Long>write(kept -> kept.next("package"));
    String file = "package/" + id + ".zip";
    try {
      try (OutputStream out = tools.files().create(file)) {
        copy(bytes, out, PackageFile.LONGEST, progress::done);
        progress.at("reading and checking it");
      }
      Taken taken = received(by, id, file, name);
      if (taken.already()) {
        tools.files().remove(file);
      }
      return taken;
    } catch (PackageRefused e) {
      tools.files().remove(file);
      throw new Problem(
          Problem.Reason.INVALID,
          "PACKAGE_REFUSED",
          "The package is refused: " + e.getMessage(),
          List.of("Get it again from who built it"),
          null);
    } catch (IOException e) {
      tools.files().remove(file);
      throw new UncheckedIOException("The package could not be received", e);
    } catch (RuntimeException e) {
      tools.files().remove(file);
      throw e;
    }
  }

  /** Whoever sends more than a package can have is refused while it is read. */
  static void copy(InputStream from, OutputStream to, long longest, LongConsumer told)
      throws IOException {
    byte[] some = new byte[1 << 16];
    long length = 0;
    for (int n = from.read(some); n >= 0; n = from.read(some)) {
      length += n;
      if (length > longest) {
        throw new PackageRefused("The file is too long for a package.");
      }
      to.write(some, 0, n);
      told.accept(length);
    }
  }

  /**
   * The same package, as it stands here; one whose signer is no longer trusted is looked at anew.
   */
  private static Optional<Parcel> there(Kept kept, Parcel asked) {
    return kept.parcels().list(Kept.Filter.application(asked.application())).stream()
        .filter(p -> p.manifest().equals(asked.manifest()))
        .filter(p -> p.state() == Parcel.State.RECEIVED || asked.problem().isEmpty())
        .max(Comparator.comparing(Parcel::state));
  }

  private Taken received(Person by, String id, String file, String name) {
    PackageFile.Checked checked = desk.read(file, Packages::check);
    Manifest m = checked.manifest();
    Parcel parcel =
        new Parcel(
            id,
            Parcel.State.RECEIVED,
            m.version().application(),
            m.version().number().text(),
            safe(name),
            file,
            tools.files().size(file),
            checked.manifestDigest().hex(),
            checked.signer(),
            distrust(checked.signer()),
            parent(m.version()),
            needs(m.version()),
            m.version().source(),
            tools.now(),
            by.login(),
            null,
            null,
            null,
            0);
    return tools
        .keeper()
        .write(
            kept -> {
              Parcel same = there(kept, parcel).orElse(null);
              if (same != null) {
                return new Taken(judgedAnew(kept, same, parcel.problem()), true);
              }
              kept.parcels().insert(parcel);
              kept.note(
                  event(
                      by,
                      "package received",
                      parcel,
                      parcel.name() + (parcel.problem().isEmpty() ? "" : ": " + parcel.problem())),
                  tools.now());
              return new Taken(parcel, false);
            });
  }

  /** Whether its signer is trusted may have changed since it came. */
  private static Parcel judgedAnew(Kept kept, Parcel there, String problem) {
    if (there.state() != Parcel.State.RECEIVED || there.problem().equals(problem)) {
      return there;
    }
    kept.parcels().replace(there.withProblem(problem));
    return kept.parcels().find(there.id()).orElseThrow();
  }

  private static String safe(String name) {
    String plain = name.replaceAll("[^A-Za-z0-9._-]", "_");
    return plain.substring(0, Math.min(120, plain.length()));
  }

  /** Why a signer is not trusted; empty when it is. */
  private String distrust(String signer) {
    Signer known = keys.known(signer).orElse(null);
    if (known == null) {
      return "It is signed with the key "
          + signer.substring(0, 12)
          + ", which is not trusted here.";
    }
    return known.trusted()
        ? ""
        : "It is signed with the key "
            + known.brief()
            + " ("
            + known.name()
            + "), which was revoked on "
            + String.valueOf(known.revokedAt()).substring(0, 10)
            + ": "
            + known.because()
            + ".";
  }

  /** What is inside must be what its kind says, before it is ever used. */
  private static void check(Kind kind, plenzo.core.digest.Digest digest, InputStream bytes)
      throws IOException {
    switch (kind) {
      case FILE -> head(bytes);
      case TABLE -> {
        try {
          TableStructure.of(text(bytes, LONGEST_STRUCTURE));
        } catch (IllegalArgumentException e) {
          throw new PackageRefused("A table's structure in it cannot be read.", e);
        }
      }
      case INTEGRATION, RULE, FORM -> {
        try {
          Json json = Json.parse(text(bytes, Definition.LONGEST));
          String name = json instanceof Json.Obj o ? o.findText("name") : null;
          Definition.of(new ComponentKey(kind, name == null ? "?" : name), json);
        } catch (IllegalArgumentException e) {
          throw new PackageRefused("A definition in it is refused: " + e.getMessage() + ".", e);
        }
      }
      case TYPE, SEQUENCE, ROUTINE, VIEW, TRIGGER, POLICY -> {
        try {
          Json json = Json.parse(text(bytes, SchemaObject.LONGEST));
          String name = json instanceof Json.Obj o ? o.findText("name") : null;
          SchemaObject.of(new ComponentKey(kind, name == null ? "?" : name), json);
        } catch (IllegalArgumentException e) {
          throw new PackageRefused("A schema object in it is refused: " + e.getMessage() + ".", e);
        }
      }
      case RECORDS -> {} // read and checked row by row when they are used
    }
  }

  private static String text(InputStream bytes, int longest) throws IOException {
    byte[] all = bytes.readNBytes(longest + 1);
    if (all.length > longest) {
      throw new PackageRefused("A component in it is longer than " + longest + " bytes.");
    }
    return new String(all, StandardCharsets.UTF_8);
  }

  private static void head(InputStream bytes) throws IOException {
    ByteArrayOutputStream line = new ByteArrayOutputStream();
    for (int b = bytes.read(); b != '\n'; b = bytes.read()) {
      if (b < 0 || line.size() > FileHead.LONGEST) {
        throw new PackageRefused("A file in it has no head.");
      }
      line.write(b);
    }
    try {
      FileHead head = FileHead.of(line.toString(StandardCharsets.UTF_8));
      String link = head.link();
      if (link != null && (link.startsWith("/") || link.indexOf('\\') >= 0 || link.isEmpty())) {
        throw new PackageRefused("A link in it leads outside the tree, to \"" + link + "\".");
      }
    } catch (IllegalArgumentException e) {
      throw new PackageRefused("A file in it has no head.", e);
    }
  }

  /**
   * Makes a received package a version here.
   *
   * @param path path that the application travels, where it is not registered yet
   */
  public Version bringIn(Person by, String id, @Nullable String path) {
    Parcel p =
        tools
            .keeper()
            .read(kept -> kept.parcels().find(id))
            .orElseThrow(() -> Problem.notFound("package", id));
    Rights.require(by, Right.BRING_IN, Person.ANY, p.application());
    if (p.state() != Parcel.State.RECEIVED) {
      throw Problem.stopped(
          "NOT_RECEIVED", id + " is " + p.state().code() + ".", "plenzo package list");
    }
    String distrust = distrust(p.signer());
    if (!distrust.isEmpty()) {
      throw Problem.stopped(
          "NOT_TRUSTED",
          distrust,
          "Compare the key with who built it, then: plenzo key trust NAME < KEYFILE");
    }
    return tools
        .underway()
        .during(
            Work.Act.BRING_IN,
            by.login(),
            "package/" + id,
            p.application(),
            () -> broughtIn(by, p, path));
  }

  private Version broughtIn(Person by, Parcel p, @Nullable String path) {
    String id = p.id();
    Underway.Progress progress = tools.underway().now();
    progress.at("reading and checking it");
    Manifest m = desk.read(p.file(), Packages::check).manifest();
    Version version = m.version();
    progress.of(version.entries().size(), "components");
    names(m);
    requireParent(version);
    desk.read(
        p.file(),
        (kind, digest, bytes) -> {
          contents.put(kind, bytes);
          progress.next();
        });
    return tools
        .keeper()
        .write(
            kept -> {
              application(kept, by, m, path);
              VersionHead there = kept.versions().head(version.ref()).orElse(null);
              if (there != null && !there.digest().equals(version.digest())) {
                throw Problem.stopped(
                    "OTHER_CONTENT",
                    version.ref() + " is here with other content: " + there.digest().brief() + ".",
                    "Ask who built it for a version with a number of its own");
              }
              if (there == null) {
                kept.versions().insert(version);
              }
              kept.parcels().replace(kept.parcels().find(id).orElseThrow().broughtIn());
              kept.note(
                  event(
                      by,
                      "package brought in",
                      p,
                      p.name()
                          + ", digest "
                          + version.digest().brief()
                          + (there == null ? "" : ", which was here already")),
                  tools.now());
              return version;
            });
  }

  /** Names of components lie in the application's name space, and those of files are safe paths. */
  private static void names(Manifest m) {
    Application a =
        Application.registered(
            "id", m.version().application(), m.applicationName(), "", m.space(), "");
    for (VersionEntry e : m.version().entries()) {
      String problem = e.key().kind() == Kind.FILE ? FilePath.problem(e.key().name()) : "";
      if (!problem.isEmpty() || !a.owns(e.key())) {
        throw Problem.invalid(
            "PACKAGE_REFUSED",
            "The package is refused: "
                + e.key()
                + (problem.isEmpty() ? " lies outside the name space " + m.space() : ": " + problem)
                + ".",
            null);
      }
    }
  }

  private void requireParent(Version version) {
    SemVer parent = version.parent();
    if (parent == null) {
      return;
    }
    missing(version.application(), version.number(), parent)
        .ifPresent(
            why -> {
              throw Problem.stopped("PARENT_MISSING", why, "Bring in " + parent + " first");
            });
  }

  private void application(Kept kept, Person by, Manifest m, @Nullable String path) {
    String key = m.version().application();
    Application known = kept.applications().find(key).orElse(null);
    if (known != null) {
      if (!known.id().equals(m.applicationId())) {
        throw Problem.stopped(
            "OTHER_APPLICATION",
            "The package is of an application "
                + m.applicationName()
                + " with the key "
                + key
                + ", and "
                + key
                + " here is another one, "
                + known.name()
                + ": their permanent ids differ.",
            "Register the other one under another key, at one of both places");
      }
      if (!known.schema().equals(m.space())) {
        throw Problem.stopped(
            "OTHER_SPACE",
            key + " has the name space " + known.schema() + " here and " + m.space() + " there.",
            "It is another application; register it under another key");
      }
      return;
    }
    if (path == null) {
      throw Problem.stopped(
          "NO_APPLICATION",
          "There is no application " + key + " here yet.",
          "Name the path that it travels: --path PATH"
              + (kept.paths().all().isEmpty()
                  ? "; lay one first, it needs no source: plenzo path new received --name Received --leg STAGE"
                  : ""));
    }
    Rights.require(by, Right.ADMINISTER, Person.EVERY, key);
    kept.paths().find(path).orElseThrow(() -> Problem.notFound("path", path));
    kept.applications()
        .insert(
            Application.registered(
                m.applicationId(), key, m.applicationName(), "brought in", m.space(), path));
    kept.note(
        new Event(
            by.login(),
            "application registered",
            key,
            null,
            null,
            null,
            null,
            null,
            m.applicationName() + ", from a package"),
        tools.now());
  }

  /** What is inside, read anew. */
  public Manifest contents(Person by, String id) {
    Parcel p = visible(by, id);
    return desk.read(p.file(), (kind, digest, bytes) -> {}).manifest();
  }

  /** Who may bring in may look at what was received, of whatever application it says it is. */
  private Parcel visible(Person by, String id) {
    return tools
        .keeper()
        .read(kept -> kept.parcels().find(id))
        .filter(
            p ->
                by.may(Right.LOOK, Person.ANY, p.application())
                    || by.may(Right.BRING_IN, Person.ANY, p.application()))
        .orElseThrow(() -> Problem.notFound("package", id));
  }

  /** Takes a received file away again. */
  public void drop(Person by, String id) {
    Parcel p = visible(by, id);
    Rights.require(by, Right.BRING_IN, Person.ANY, p.application());
    if (p.state() != Parcel.State.RECEIVED) {
      throw Problem.stopped(
          "NOT_RECEIVED", id + " is " + p.state().code() + " and stays.", "plenzo package list");
    }
    tools
        .keeper()
        .write(
            kept -> {
              kept.parcels().remove(id);
              return kept.note(event(by, "package dropped", p, p.name()), tools.now());
            });
    tools.files().remove(p.file());
  }
}
