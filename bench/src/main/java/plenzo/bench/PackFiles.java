package plenzo.bench;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.Callable;
import plenzo.connectors.directory.DirectoryConnector;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.item.FileHead;
import plenzo.core.item.ItemSeen;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.RunMark;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.packages.PackageFile;
import plenzo.packages.Signatures;

/**
 * A tree of many files: read, exchanged and put back; built into a package and verified, beside the
 * plain tools {@code sha256sum}, {@code zip} and {@code unzip} over the same files in the same run.
 * Run it with {@code -Xmx256m}; arguments: number of files, bytes of each.
 */
public final class PackFiles {
  private PackFiles() {}

  public static void main(String[] args) throws Exception {
    int count = args.length > 0 ? Integer.parseInt(args[0]) : 100_000;
    int size = args.length > 1 ? Integer.parseInt(args[1]) : 50_000;
    Path root = Path.of("bench/target/files").toAbsolutePath();
    plain("rm", "-rf", root.toString());
    Path published = Files.createDirectories(root.resolve("published"));
    write(published, count, size);
    System.out.printf(
        "%,d files of %,d bytes; heap at most %d MB%n",
        count, size, Runtime.getRuntime().maxMemory() >> 20);
    DirectoryConnector connector = new DirectoryConnector();
    Access access = new Access("", 0, "", published.toString(), "", "disable", Map.of(), "");
    connector.makeReady(access);
    List<ItemSeen> seen = new ArrayList<>();
    took(
        "read the directory, with a digest of each file",
        () -> {
          seen.clear();
          try (ItemsLooking looking = connector.look(access)) {
            looking.inventory("files", seen::add);
          }
          return null;
        });
    took(
        "  beside: find -type f -print0 | xargs -0 sha256sum",
        () -> shell(published, "find . -type f -print0 | xargs -0 sha256sum > ../sums"));
    exchange(connector, access, seen);
    pack(root, published, seen);
  }

  private static void exchange(DirectoryConnector connector, Access access, List<ItemSeen> seen)
      throws Exception {
    List<ItemsDelta.Change> changes = new ArrayList<>();
    Map<ComponentKey, String> owned = new HashMap<>();
    for (int i = 0; i < seen.size(); i++) {
      ItemSeen s = seen.get(i);
      if (i % 100 == 0) {
        // the same content again: what is measured is the way, not the bytes
        changes.add(
            new ItemsDelta.Change(
                s.key(), Difference.CHANGED, s.content(), s.seal(), s.content(), s.size(), false));
      } else {
        owned.put(s.key(), s.seal());
      }
    }
    Map<Digest, ComponentKey> byContent = new HashMap<>();
    changes.forEach(c -> byContent.put(c.incoming(), c.key()));
    RunMark mark = new RunMark(1, "switch", 1, "1.0.0", "bench", "bench", null);
    try (ItemsLooking looking = connector.look(access);
        ItemsChanging changing = connector.change(access)) {
      ItemsDelta delta =
          new ItemsDelta(
              changes,
              owned,
              Map.of(),
              (kind, digest) ->
                  looking.read(java.util.Objects.requireNonNull(byContent.get(digest))));
      took(
          "prepare a new tree, one file in a hundred changed",
          () -> {
            changing.prepare(1, delta, WATCH);
            return null;
          });
      took(
          "switch: walk again, move the link",
          () -> {
            changing.switchOver(mark, delta, WATCH);
            return null;
          });
      took(
          "switch back",
          () -> {
            changing.undo(mark);
            return null;
          });
      changing.discard(1);
    }
  }

  private static final Changing.Watch WATCH =
      new Changing.Watch() {
        @Override
        public void say(String line) {}

        @Override
        public void rows(long done) {}

        @Override
        public void beforeCommit() {}

        @Override
        public java.util.function.BooleanSupplier abortAsked() {
          return () -> false;
        }
      };

  private static void pack(Path root, Path published, List<ItemSeen> seen) throws Exception {
    List<VersionEntry> entries =
        seen.stream()
            .map(
                s ->
                    new VersionEntry(
                        s.key(), "uid-" + s.key().name().hashCode(), s.content(), null, 0, "bench"))
            .toList();
    Map<ComponentKey, Long> sizes = new HashMap<>();
    int head = new FileHead(false, null).line().length();
    seen.forEach(s -> sizes.put(s.key(), head + s.size()));
    Version version =
        Version.of(
            "files",
            new SemVer("1.0.0"),
            null,
            entries,
            List.of(),
            List.of(),
            List.of(),
            "Bench",
            "",
            List.of(),
            "bench",
            Instant.EPOCH,
            "bench");
    Signatures.Keys keys = Signatures.make(new SecureRandom());
    DirectoryConnector connector = new DirectoryConnector();
    Path file = root.resolve("files-1.0.0.zip");
    try (ItemsLooking looking =
        connector.look(new Access("", 0, "", published.toString(), "", "disable", Map.of(), ""))) {
      took(
          "build the package",
          () ->
              PackageFile.write(
                  file,
                  new PackageFile.Application("id", "Files", "files", null),
                  version,
                  "bench",
                  keys,
                  new PackageFile.Source() {
                    @Override
                    public long size(VersionEntry entry) {
                      return java.util.Objects.requireNonNull(sizes.get(entry.key()));
                    }

                    @Override
                    public InputStream open(VersionEntry entry) {
                      return looking.read(entry.key());
                    }
                  }));
    }
    took(
        "  beside: sha256sum of each, then zip -q -r",
        () ->
            shell(
                published,
                "find -L . -type f -print0 | xargs -0 sha256sum > ../sums && zip -q -r ../plain.zip ."));
    took("verify the package", () -> PackageFile.verify(file, n -> {}));
    took(
        "  beside: unzip -tq, then sha256sum -c",
        () -> shell(published, "unzip -tq ../plain.zip && sha256sum --quiet -c ../sums"));
  }

  private static void write(Path folder, int count, int size) throws IOException {
    Random random = new Random(1);
    byte[] bytes = new byte[size];
    for (int i = 0; i < count; i++) {
      Path file = folder.resolve("files/" + i / 1000 + "/" + i + ".bin");
      if (i % 1000 == 0) {
        Files.createDirectories(file.getParent());
      }
      random.nextBytes(bytes);
      try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(file), 1 << 16)) {
        out.write(bytes);
      }
    }
  }

  private static void took(String what, Callable<?> work) throws Exception {
    long began = System.nanoTime();
    work.call();
    Duration took = Duration.ofNanos(System.nanoTime() - began);
    System.out.printf("%-60s %,9d ms%n", what, took.toMillis());
  }

  private static Object shell(Path folder, String command) throws Exception {
    Process p =
        new ProcessBuilder("sh", "-c", command)
            .directory(folder.toRealPath().toFile())
            .inheritIO()
            .start();
    if (p.waitFor() != 0) {
      throw new IllegalStateException("The plain tools failed: " + command);
    }
    return "done";
  }

  private static void plain(String... command) throws Exception {
    new ProcessBuilder(command).start().waitFor();
  }
}
