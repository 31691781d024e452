package plenzo.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.ConnectionView;
import plenzo.api.Stages.Ready;
import plenzo.api.Stages.SaveConnection;

@Command(
    name = "connection",
    description = "Named ways to reach a system; secrets are write-only.",
    footer = {
      "",
      "Examples:",
      "  plenzo connection list --stage production",
      "  plenzo connection new production/files --leads-to directory --path /srv/fares/published",
      "  plenzo connection lend production/terminal --to fares"
    })
final class ConnectionCommand extends Group {
  @Command(name = "list", description = "All connections with the result of their last test.")
  void list(@Option(names = "--stage") @Nullable String stage) {
    out()
        .list(
            "connections",
            api().list("/connections" + Api.query("stage", stage), ConnectionView.class),
            List.of("connection", "sort", "leads to", "lent to", "secret", "test"),
            c ->
                List.of(
                    c.stage() + "/" + c.name(),
                    c.sort(),
                    c.leadsTo(),
                    String.join(", ", c.lentTo()),
                    c.sort().equals("directory")
                        ? "needs none"
                        : c.hasSecret() ? "set by " + c.secretSetBy() : "not set",
                    c.test() == null
                        ? "not tested"
                        : out().state(c.test().good() ? "good" : "failed")
                            + " "
                            + out().time(c.test().at())));
  }

  @Command(
      name = "new",
      description = "Registers a connection; its password or token comes from standard input.",
      footer = {
        "",
        "Examples:",
        "  plenzo connection new test/db-look --host db.example --database app --account look < password.txt",
        "  plenzo connection new test/files --leads-to directory --path /srv/test/published",
        "  plenzo connection new test/host --leads-to host --host app.example --port 8443 < token.txt",
        "  plenzo connection new test/host --leads-to host --host app.example --port 8443 --sign-in certificate --authority ca.pem < key-and-certificate.pem"
      })
  void make(
      @Parameters(paramLabel = "STAGE/NAME") String id,
      @Option(
              names = "--leads-to",
              defaultValue = "postgresql",
              description = "postgresql, directory or host.")
          String sort,
      @Option(names = "--host", description = "Of a database or an application host.")
          @Nullable String host,
      @Option(names = "--port", defaultValue = "5432") int port,
      @Option(names = "--database") @Nullable String database,
      @Option(names = "--account") @Nullable String account,
      @Option(
              names = "--path",
              description =
                  "Folder of a directory; what stands before the protocol in a host's address.")
          @Nullable String path,
      @Option(
              names = "--mode",
              paramLabel = "exchange|in-place",
              description = "How a directory is switched; exchange is the default.")
          @Nullable String mode,
      @Option(
              names = "--longest-path",
              paramLabel = "BYTES",
              description = "Longest whole path that whoever reads the directory can bear.")
          @Nullable Integer longest,
      @Option(
              names = "--sign-in",
              paramLabel = "token|certificate",
              description =
                  "How an application host is told who calls; for certificate, standard input holds a private key (PKCS#8) and its certificates in PEM.")
          @Nullable String signIn,
      @Option(
              names = "--authority",
              paramLabel = "FILE",
              description =
                  "Certificates in PEM that an application host is trusted by, instead of the machine's.")
          @Nullable Path authority,
      @Option(
              names = "--lend-to",
              paramLabel = "APPLICATION",
              description =
                  "Which applications may name it in a binding; targets need no such leave.")
          @Nullable List<String> lent,
      @Option(
              names = "--tls",
              defaultValue = "verify-full",
              description = "verify-full, require or disable.")
          String tls) {
    String[] at = id.split("/", 2);
    if (at.length < 2) {
      throw Failed.usage("A connection is written STAGE/NAME.");
    }
    boolean directory = sort.equals("directory");
    require(directory, path, "--path");
    require(!directory, host, "--host");
    require(sort.equals("postgresql"), database, "--database");
    require(sort.equals("postgresql"), account, "--account");
    java.util.Map<String, String> options = new java.util.TreeMap<>();
    if (mode != null) {
      options.put("mode", mode);
    }
    if (longest != null) {
      options.put("longest-path", String.valueOf(longest));
    }
    if (signIn != null) {
      options.put("sign-in", signIn);
    }
    if (authority != null) {
      try {
        options.put("authority", Files.readString(authority));
      } catch (IOException e) {
        throw Failed.usage("The file " + authority + " cannot be read.");
      }
    }
    ConnectionView c =
        api()
            .put(
                "/connections/" + Api.encode(at[0]) + "/" + Api.encode(at[1]),
                new SaveConnection(
                    at[1],
                    sort,
                    host,
                    directory ? 0 : port,
                    database,
                    path,
                    account,
                    directory ? "disable" : tls,
                    options,
                    lent,
                    directory ? null : top().standardInput(),
                    0),
                ConnectionView.class);
    out().line("Connection " + c.stage() + "/" + c.name() + " is registered.");
  }

  private static void require(boolean needed, @Nullable String value, String option) {
    if (needed && value == null) {
      throw Failed.usage("This sort of connection needs " + option + ".");
    }
  }

  @Command(
      name = "ready",
      description =
          "Makes a plain directory fit for being switched: it becomes a link to a tree. For a moment nobody finds it.")
  void ready(@Parameters(paramLabel = "STAGE/NAME") String id) {
    String[] at = id.split("/", 2);
    if (at.length < 2) {
      throw Failed.usage("A connection is written STAGE/NAME.");
    }
    out()
        .line(
            api()
                .post(
                    "/connections/" + Api.encode(at[0]) + "/" + Api.encode(at[1]) + "/ready",
                    java.util.Map.of(),
                    Ready.class)
                .done());
  }

  private ConnectionView find(String id) {
    String[] at = id.split("/", 2);
    return api().list("/connections" + Api.query("stage", at[0]), ConnectionView.class).stream()
        .filter(c -> at.length == 2 && c.name().equals(at[1]))
        .findFirst()
        .orElseThrow(
            () ->
                Failed.notFound(
                    "There is no connection \"" + id + "\".", "plenzo connection list"));
  }

  @Command(
      name = "lend",
      description = "Says which applications may name it in a binding; the whole list.",
      footer = {"", "Examples:", "  plenzo connection lend production/terminal --to fares"})
  void lend(
      @Parameters(paramLabel = "STAGE/NAME") String id,
      @Option(names = "--to", paramLabel = "APPLICATION", description = "None: nobody any more.")
          @Nullable List<String> to) {
    ConnectionView old = find(id);
    List<String> lent = to == null ? List.of() : to;
    api()
        .put(
            "/connections/" + Api.encode(old.stage()) + "/" + Api.encode(old.name()),
            new SaveConnection(
                old.name(),
                old.sort(),
                old.host(),
                old.port(),
                old.database(),
                old.path(),
                old.account(),
                old.tls(),
                old.options(),
                lent,
                null,
                old.revision()),
            ConnectionView.class);
    out()
        .line(
            "Connection "
                + id
                + (lent.isEmpty()
                    ? " is lent to nobody."
                    : " is lent to " + String.join(", ", lent) + "."));
  }

  @Command(
      name = "change",
      description = "Changes where it leads; that clears its secret and its test.")
  void change(
      @Parameters(paramLabel = "STAGE/NAME") String id,
      @Option(names = "--host") @Nullable String host,
      @Option(names = "--port") @Nullable Integer port,
      @Option(names = "--database") @Nullable String database,
      @Option(names = "--path") @Nullable String path,
      @Option(names = "--account") @Nullable String account,
      @Option(names = "--secret-stdin", description = "Read a new password from standard input.")
          boolean secret) {
    String[] at = id.split("/", 2);
    ConnectionView old = find(id);
    SaveConnection next =
        new SaveConnection(
            old.name(),
            old.sort(),
            host == null ? old.host() : host,
            port == null ? old.port() : port,
            database == null ? old.database() : database,
            path == null ? old.path() : path,
            account == null ? old.account() : account,
            old.tls(),
            old.options(),
            null,
            secret ? top().standardInput() : null,
            old.revision());
    api()
        .put(
            "/connections/" + Api.encode(at[0]) + "/" + Api.encode(at[1]),
            next,
            ConnectionView.class);
    out().line("Connection " + id + " is changed.");
  }
}
