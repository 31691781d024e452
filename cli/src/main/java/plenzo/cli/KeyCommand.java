package plenzo.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Packages.KeyView;
import plenzo.api.Packages.NewKey;
import plenzo.api.Packages.Revoke;
import plenzo.api.Packages.Trust;

@Command(
    name = "key",
    description = "Keys that sign packages, and the list of those that are trusted.",
    footer = {
      "",
      "Examples:",
      "  plenzo key new \"Morrowick 2026\"",
      "  plenzo key save 3f1c --to morrowick.key",
      "  plenzo key trust \"Head office\" < office.key"
    })
final class KeyCommand extends Group {
  @Command(name = "list", description = "All keys; packages are signed with the newest own one.")
  void list() {
    out()
        .list(
            "keys",
            api().list("/keys", KeyView.class),
            List.of("key", "name", "whose", "state", "since", "by"),
            k ->
                List.of(
                    k.id().substring(0, 12),
                    k.name(),
                    k.own() ? "own" : "another service's",
                    k.trusted() ? "trusted" : "revoked: " + k.because(),
                    out().time(k.at()),
                    k.by()));
  }

  @Command(name = "new", description = "Makes a key; from now on packages are signed with it.")
  void make(@Parameters(paramLabel = "NAME") String name) {
    told(api().post("/keys", new NewKey(name), KeyView.class), "is made and signs from now on");
  }

  @Command(
      name = "trust",
      description = "Trusts another service's public key, which comes from standard input.")
  void trust(@Parameters(paramLabel = "NAME") String name) {
    told(
        api().post("/keys/trust", new Trust(name, top().standardInput()), KeyView.class),
        "is trusted");
  }

  @Command(name = "revoke", description = "Takes nothing from now on that the key signed.")
  void revoke(
      @Parameters(paramLabel = "KEY") String id,
      @Option(names = "--reason", required = true) String reason) {
    told(api().post("/keys/revoke", new Revoke(id, reason), KeyView.class), "is revoked");
  }

  private void told(KeyView k, String what) {
    if (out().json()) {
      out().document("key", k);
      return;
    }
    out().line("Key " + k.id().substring(0, 12) + " (" + k.name() + ") " + what + ".");
  }

  @Command(name = "save", description = "Saves a public key, to be carried to who should trust it.")
  void save(
      @Parameters(paramLabel = "KEY") String id,
      @Option(names = "--to", required = true, paramLabel = "FILE") Path to) {
    List<KeyView> found =
        api().list("/keys", KeyView.class).stream().filter(k -> k.id().startsWith(id)).toList();
    if (found.size() != 1) {
      throw Failed.usage("There is no one key \"" + id + "\".", "plenzo key list");
    }
    try {
      Files.writeString(to, found.get(0).key() + "\n");
    } catch (IOException e) {
      throw new UncheckedIOException("The key could not be saved", e);
    }
    out().line(to + ": the public key " + found.get(0).id().substring(0, 12));
  }
}
