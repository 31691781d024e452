package plenzo.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Packages.BringIn;
import plenzo.api.Packages.Build;
import plenzo.api.Packages.ContentsView;
import plenzo.api.Packages.PackageView;
import plenzo.api.Versions.VersionView;
import plenzo.packages.PackageRefused;
import plenzo.packages.Signatures;
import plenzo.packages.VerifiedFacts;

@Command(
    name = "package",
    description = "A version as one file that can be trusted.",
    footer = {
      "",
      "Examples:",
      "  plenzo package build fares@2.4.0",
      "  plenzo package save K-1 --to fares-2.4.0.zip",
      "  plenzo package verify fares-2.4.0.zip --trust north.key",
      "  plenzo package bring-in fares-2.4.0.zip",
      "",
      "verify needs no service; without --trust it ends \"intact, signer not trusted\", exit 17."
    })
final class PackageCommand extends Group {
  @Command(name = "list", description = "Packages that were built here or came from elsewhere.")
  void list(@Option(names = "--app") @Nullable String app) {
    out()
        .list(
            "packages",
            api()
                .pages(
                    "/packages" + Api.query("application", app), PackageView.class, out().wanted()),
            List.of(
                "package",
                "version",
                "state",
                "file",
                "bytes",
                "signed by",
                "at",
                "by",
                "handed out"),
            p ->
                List.of(
                    p.id(),
                    p.application() + "@" + p.number(),
                    out().state(p.state()),
                    p.name(),
                    String.valueOf(p.size()),
                    p.signer().substring(0, 12)
                        + (p.signerName().isEmpty() ? "" : " " + p.signerName()),
                    out().time(p.at()),
                    p.by(),
                    p.handedOutAt() == null
                        ? ""
                        : out().time(p.handedOutAt()) + " by " + p.handedOutBy()));
  }

  @Command(name = "build", description = "Builds the package of a version, signed.")
  void build(@Parameters(paramLabel = "APPLICATION@NUMBER") String version) {
    String[] v = parts(version, "fares@2.4.0");
    told(
        Telling.work(
            this,
            "version/" + v[0] + "@" + v[1],
            api -> api.post("/packages", new Build(v[0], v[1]), PackageView.class)));
  }

  private void told(PackageView p) {
    if (out().json()) {
      out().document("package", p);
      return;
    }
    if (p.already()) {
      out()
          .line(
              p.application()
                  + "@"
                  + p.number()
                  + " is here already: the same package, "
                  + p.id()
                  + ", "
                  + p.state()
                  + ". Of this file nothing was kept.");
    } else {
      file(p);
    }
    before(p.before());
    if (!p.missing().isEmpty()) {
      out().line("Not here yet: " + p.missing());
    }
    if (!p.problem().isEmpty()) {
      out().line("It may not be brought in: " + p.problem());
    }
  }

  /** Said at building, receiving and verifying: whoever takes it elsewhere has to know. */
  private void before(List<String> sentences) {
    sentences.forEach(s -> out().line("Must come before: " + s));
  }

  private void file(PackageView p) {
    out()
        .line(
            p.id()
                + " is "
                + p.name()
                + ", "
                + String.format(Locale.ROOT, "%,d bytes", p.size())
                + ", manifest "
                + p.manifest().substring(0, 12)
                + ", signed by "
                + p.signer().substring(0, 12)
                + (p.signerName().isEmpty() ? "" : " (" + p.signerName() + ")")
                + ".");
  }

  @Command(name = "show", description = "What a package holds.")
  void show(@Parameters(paramLabel = "PACKAGE") String id) {
    ContentsView c = api().get("/packages/" + Api.encode(id) + "/contents", ContentsView.class);
    if (out().json()) {
      out().document("contents", c);
      return;
    }
    facts(
        c.title(),
        c.author(),
        c.sealedAt().toString(),
        c.parent(),
        c.digest(),
        c.kinds(),
        c.bytes());
    c.components().forEach(k -> out().line("  " + k));
    int more = c.kinds().values().stream().mapToInt(n -> n).sum() - c.components().size();
    if (more > 0) {
      out().line("  … " + more + " more");
    }
    c.removals().forEach(r -> out().line("  − " + r));
  }

  private void facts(
      String title,
      String author,
      String sealedAt,
      @Nullable String parent,
      String digest,
      Map<String, Integer> kinds,
      long bytes) {
    out().line("Title    " + title);
    out().line("Author   " + author + ", sealed " + sealedAt);
    out().line("From     " + (parent == null ? "nothing: the first version" : parent));
    out().line("Digest   " + digest.substring(0, 12));
    out()
        .line("Holds    " + counted(kinds) + "; " + String.format(Locale.ROOT, "%,d bytes", bytes));
  }

  @Command(name = "save", description = "Saves the file; who took it is recorded.")
  void save(
      @Parameters(paramLabel = "PACKAGE") String id,
      @Option(names = "--to", required = true, paramLabel = "FILE") Path to) {
    long size = api().save("/packages/" + Api.encode(id) + "/file", to);
    out().line(to + ": " + String.format(Locale.ROOT, "%,d bytes", size));
  }

  @Command(
      name = "verify",
      description = "Reads every byte of a package and checks its signature; needs no service.")
  int verify(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(
              names = "--trust",
              paramLabel = "KEYFILE",
              description =
                  "Public key that is trusted, as \"plenzo key save\" writes it; repeatable.")
          @Nullable List<Path> trusted) {
    VerifiedFacts checked;
    try {
      if (!Files.isRegularFile(file)) {
        throw Failed.usage("There is no file " + file + ".");
      }
      checked = VerifiedFacts.of(file);
    } catch (PackageRefused e) {
      throw new Failed(
          Failed.NOT_INTACT,
          "PACKAGE_REFUSED",
          file + " is refused: " + e.getMessage(),
          List.of("Get it again from who built it"),
          "");
    }
    boolean trust =
        trusted != null
            && trusted.stream().map(PackageCommand::id).anyMatch(checked.signer()::equals);
    String word = trust ? "intact, signer trusted" : "intact, signer not trusted";
    if (out().json()) {
      out()
          .document(
              "verified",
              Map.of(
                  "result",
                  word,
                  "trusted",
                  trust,
                  "version",
                  checked.version(),
                  "manifest",
                  checked.manifestDigest(),
                  "digest",
                  checked.digest(),
                  "signer",
                  checked.signer(),
                  "before",
                  checked.before()));
    } else {
      out().line(file + ": " + word);
      out().line("Version  " + checked.version());
      facts(
          checked.title(),
          checked.author(),
          checked.sealedAt(),
          checked.parent(),
          checked.digest(),
          checked.kinds(),
          checked.bytes());
      out().line("Signer   " + checked.signer());
      before(checked.before());
    }
    return trust ? 0 : Failed.NOT_INTACT;
  }

  private static String id(Path key) {
    try {
      return Signatures.id(Files.readString(key));
    } catch (IOException e) {
      throw Failed.usage("The key file " + key + " cannot be read.");
    } catch (IllegalArgumentException e) {
      throw Failed.usage(key + ": " + e.getMessage() + ".");
    }
  }

  @Command(
      name = "receive",
      description =
          "Hands a file over to the service, which reads all of it; nothing else happens.")
  void receive(@Parameters(paramLabel = "FILE") Path file) {
    told(received(file));
  }

  private PackageView received(Path file) {
    if (!Files.isRegularFile(file)) {
      throw Failed.usage("There is no file " + file + ".");
    }
    return Telling.work(
        this,
        "packages",
        api ->
            api.upload(
                "/packages/received" + Api.query("name", file.getFileName().toString()),
                file,
                "application/zip",
                PackageView.class));
  }

  @Command(
      name = "bring-in",
      description = "Makes a package a version here: a file, or one that was received already.")
  void bringIn(
      @Parameters(paramLabel = "FILE|PACKAGE") String what,
      @Option(
              names = "--path",
              description = "Path that the application travels, where it is not registered yet.")
          @Nullable String path) {
    String id = what;
    if (!what.matches("K-\\d+")) {
      PackageView p = received(Path.of(what));
      boolean done = p.already() && !p.state().equals("received");
      if (!out().json() || done) {
        told(p);
      }
      if (done) {
        return; // built here, or brought in before
      }
      id = p.id();
    }
    String received = id;
    VersionView v =
        Telling.work(
            this,
            "package/" + received,
            api ->
                api.post(
                    "/packages/" + Api.encode(received) + "/bring-in",
                    new BringIn(path),
                    VersionView.class));
    if (out().json()) {
      out().document("version", v);
      return;
    }
    out()
        .line(
            v.application()
                + "@"
                + v.number()
                + " is here: "
                + counted(v.kinds())
                + ", digest "
                + v.digest().substring(0, 12)
                + ".");
  }

  @Command(name = "drop", description = "Takes a received package away again.")
  void drop(@Parameters(paramLabel = "PACKAGE") String id) {
    api().post("/packages/" + Api.encode(id) + "/drop", Map.of(), Void.class);
    out().line(id + " is gone.");
  }
}
