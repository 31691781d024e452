package plenzo.connectors.directory;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.Anchor;
import plenzo.core.json.Json;
import plenzo.core.target.Access;
import plenzo.core.target.Leftover;
import plenzo.core.target.RunMark;
import plenzo.core.target.RunSeen;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;

/**
 * What Plenzo keeps beside a directory, in a folder of the same name with ".plenzo" behind it: who
 * the directory is, a lock, the marks of runs, what was made void, and the trees.
 */
final class Control {
  /** How long a lock is waited for (rules C: lock_timeout 3 s). */
  private static final long LOCK_NANOS = 3_000_000_000L;

  private final Path published;
  private final Path folder;
  private final boolean inPlace;

  Control(Access access) {
    this.published = Path.of(access.path()).toAbsolutePath().normalize();
    this.folder = published.resolveSibling(published.getFileName() + ".plenzo");
    this.inPlace = access.options().getOrDefault("mode", "exchange").equals("in-place");
  }

  Path published() {
    return published;
  }

  Path folder() {
    return folder;
  }

  boolean inPlace() {
    return inPlace;
  }

  Path trees() {
    return folder.resolve("trees");
  }

  Path tree(long run) {
    return trees().resolve("run-" + run);
  }

  /** What one run keeps. */
  Path run(long run) {
    return folder.resolve("run-" + run);
  }

  /** Where a backup is restored to prove it. */
  Path proof(long run) {
    return folder.resolve("proof-" + run);
  }

  /** Where a plan is rehearsed. */
  Path rehearsal(long number) {
    return folder.resolve("rehearsal-" + number);
  }

  private Path marks() {
    return folder.resolve("marks");
  }

  private Path voids(long run) {
    return folder.resolve("void").resolve("run-" + run);
  }

  /** Trees that are not published, and what runs and proofs put beside. */
  List<Leftover> leftovers() throws IOException {
    List<Leftover> out = new ArrayList<>();
    Path present = present();
    for (Path tree : inside(trees())) {
      if (!tree.equals(present)) {
        add(out, Leftover.Sort.BEFORE, "run-", tree);
      }
    }
    for (Path place : inside(folder)) {
      add(out, Leftover.Sort.PREPARED, "run-", place);
      add(out, Leftover.Sort.SCRATCH, "proof-", place);
      add(out, Leftover.Sort.REHEARSAL, "rehearsal-", place);
    }
    return out;
  }

  private static List<Path> inside(Path folder) throws IOException {
    if (!Files.isDirectory(folder)) {
      return List.of();
    }
    try (Stream<Path> all = Files.list(folder)) {
      return all.sorted().toList();
    }
  }

  private void add(List<Leftover> to, Leftover.Sort sort, String prefix, Path place)
      throws IOException {
    String name = place.getFileName().toString();
    if (name.matches(prefix + "[0-9]{1,18}")) {
      long run = Long.parseLong(name.substring(prefix.length()));
      to.add(new Leftover(sort, folder.relativize(place).toString(), run, Disk.size(place)));
    }
  }

  /** The tree that the link leads to; the directory itself when it is no link. */
  Path present() throws IOException {
    return Files.isSymbolicLink(published)
        ? published.resolveSibling(Files.readSymbolicLink(published)).normalize()
        : published;
  }

  boolean switchable() {
    return Files.isSymbolicLink(published);
  }

  Optional<TargetIdentity> identity() {
    try {
      Path file = folder.resolve("identity.json");
      if (!Files.exists(file)) {
        return Optional.empty();
      }
      Json.Obj j = Json.parseObject(Files.readString(file));
      return Optional.of(
          new TargetIdentity(
              j.text("service"),
              j.text("stage"),
              j.text("site"),
              j.text("target"),
              Instant.parse(j.text("since"))));
    } catch (IOException e) {
      throw failed("Who the directory is cannot be read", e);
    }
  }

  void declare(TargetIdentity who) {
    try {
      Disk.write(
          folder.resolve("identity.json"),
          Json.object(
                  "service",
                  who.service(),
                  "stage",
                  who.stage(),
                  "site",
                  who.site(),
                  "target",
                  who.target(),
                  "since",
                  who.since().toString())
              .canonical());
    } catch (IOException e) {
      throw failed("Who the directory is cannot be written", e);
    }
  }

  /** Writes the mark of a run with the name of what it replaces. */
  void mark(RunMark mark, String before, Instant at) throws IOException {
    Disk.write(
        marks().resolve("run-" + mark.run() + ".json"),
        Json.object(
                "run",
                mark.run(),
                "version",
                mark.version(),
                "fingerprint",
                mark.fingerprint(),
                "person",
                mark.person(),
                "anchor",
                mark.anchor() == null ? null : mark.anchor().text(),
                "before",
                before,
                "at",
                at.toString())
            .canonical());
  }

  Json.@Nullable Obj marked(long run) throws IOException {
    Path file = marks().resolve("run-" + run + ".json");
    return Files.exists(file)
        ? Json.parseObject(Files.readString(file, StandardCharsets.UTF_8))
        : null;
  }

  /** Runs whose marks stand and that were not made void, newest first. */
  List<RunSeen> runs(int limit) throws IOException {
    List<RunSeen> out = new ArrayList<>();
    if (!Files.isDirectory(marks())) {
      return out;
    }
    try (var all = Files.list(marks())) {
      for (Path file : all.toList()) {
        Json.Obj mark = Json.parseObject(Files.readString(file));
        long run = ((Json.Num) Objects.requireNonNull(mark.members().get("run"))).value();
        if (!Files.exists(voids(run))) {
          String anchor = mark.findText("anchor");
          out.add(
              new RunSeen(
                  run,
                  mark.text("version"),
                  mark.text("fingerprint"),
                  anchor == null ? null : Anchor.of(anchor)));
        }
      }
    }
    out.sort(Comparator.comparing(RunSeen::run).reversed());
    return out.subList(0, Math.min(limit, out.size()));
  }

  /** Whether the mark under the run's number is another plan's. */
  boolean another(RunMark mark) throws IOException {
    Json.Obj marked = marked(mark.run());
    return marked != null && !mark.fingerprint().equals(marked.findText("fingerprint"));
  }

  /**
   * @throws SwitchRefused when another run of that number was here: the records are older than this
   */
  void refuseTaken(long run) throws IOException {
    if (marked(run) != null) {
      throw new SwitchRefused(
          SwitchRefused.Why.REFUSED,
          published + " remembers a run R-" + run + " already: Plenzo's records are older",
          List.of());
    }
  }

  /** Whether the present tree was put there by a later run that replaced this one's. */
  boolean replacedLater(long run) throws IOException {
    if (!Files.isDirectory(marks())) {
      return false;
    }
    try (var all = Files.list(marks())) {
      for (Path file : all.toList()) {
        Json.Obj mark = Json.parseObject(Files.readString(file));
        if (("run-" + run).equals(mark.findText("before"))
            && present()
                .getFileName()
                .toString()
                .equals("run-" + ((Json.Num) mark.members().get("run")).value())) {
          return true;
        }
      }
    }
    return false;
  }

  void makeVoid(long run) throws IOException {
    Disk.write(voids(run), "");
  }

  /**
   * @throws SwitchRefused when the run was made void here
   */
  void refuseVoid(long run) {
    if (Files.exists(voids(run))) {
      throw new SwitchRefused(
          SwitchRefused.Why.REFUSED, "R-" + run + " was made void in " + published, List.of());
    }
  }

  private Path closed() {
    return folder.resolve("closed.json");
  }

  /**
   * Puts a file beside the directory that says that it is closed. What it is called is written down
   * first, so that it is taken away whatever happens next.
   *
   * @throws TargetFailed when somebody else's file of that name is there: it stays
   */
  void close(String name, String notice) throws IOException {
    Path file = published.resolveSibling(name);
    boolean ours = Files.exists(closed()) && name.equals(closedBy());
    if (!ours) {
      if (Disk.exists(file) || file.equals(published) || file.equals(folder)) {
        throw new TargetFailed(
            "There is already a file " + name + " beside " + published + ", which is not Plenzo's",
            /* notReachable= */ false,
            new IllegalStateException(name));
      }
      open(); // one of another name
      Disk.write(closed(), Json.object("file", name).canonical());
    }
    Disk.write(file, name.endsWith(".html") ? page(notice) : notice + "\n");
  }

  private String closedBy() throws IOException {
    return Json.parseObject(Files.readString(closed())).text("file");
  }

  private static String page(String notice) {
    String text = notice.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;");
    return "<!doctype html>\n<html lang=\"en\">\n<meta charset=\"utf-8\">\n<title>Closed for a moment</title>\n<p>"
        + text
        + "</p>\n</html>\n";
  }

  /** Takes that file away; nothing where there is none. */
  void open() throws IOException {
    if (Files.exists(closed())) {
      Files.deleteIfExists(published.resolveSibling(closedBy()));
      Files.delete(closed());
    }
  }

  /** A lock that is held until it is closed. */
  interface Held extends AutoCloseable {
    @Override
    void close();
  }

  /**
   * The service's own lock, under which the link is moved and outcomes are made final.
   *
   * @throws SwitchRefused when somebody else holds it for longer than 3 s
   */
  Held lock(String name) {
    try {
      Files.createDirectories(folder);
      FileChannel channel =
          FileChannel.open(
              folder.resolve(name), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
      long began = System.nanoTime();
      while (true) {
        FileLock lock = tryLock(channel);
        if (lock != null) {
          return () -> close(channel);
        }
        if (System.nanoTime() - began > LOCK_NANOS) {
          channel.close();
          throw new SwitchRefused(
              SwitchRefused.Why.LOCKED,
              "The directory " + published + " is locked by another run",
              List.of(folder.resolve(name).toString()));
        }
        Thread.sleep(20);
      }
    } catch (IOException e) {
      throw failed("The directory " + published + " cannot be locked", e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw failed("Interrupted while waiting for the lock of " + published, e);
    }
  }

  private static @Nullable FileLock tryLock(FileChannel channel) throws IOException {
    try {
      return channel.tryLock();
    } catch (OverlappingFileLockException e) {
      return null; // another thread of this process
    }
  }

  private static void close(FileChannel channel) {
    try {
      channel.close();
    } catch (IOException e) {
      throw failed("A lock cannot be given back", e);
    }
  }

  static TargetFailed failed(String what, Exception e) {
    return new TargetFailed(what + ": " + e, /* notReachable= */ true, e);
  }
}
