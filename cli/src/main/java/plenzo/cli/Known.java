package plenzo.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

/**
 * Names that the server knows, for completing: asked for a second at most, kept for a minute in the
 * person's own folder, and nothing at all when anything goes wrong.
 */
final class Known {
  private static final Duration LONGEST = Duration.ofSeconds(1);
  private static final Duration KEPT = Duration.ofSeconds(60);

  private final Settings settings;
  private final String server;

  Known(Settings settings, String server) {
    this.settings = settings;
    this.server = server;
  }

  /** Sorts of names. */
  enum What {
    NOTHING,
    APPLICATION,
    STAGE,
    SITE,
    PATH,
    PROMOTION,
    RUN,
    DRAFT,
    VERSION,
    PLACE,
    CONNECTION,
    PERSON,
    RELEASE
  }

  /**
   * @param typed as far as it was typed: of versions and places, what stands before the "@" says of
   *     which application
   */
  List<String> names(What what, String typed) {
    if (what == What.NOTHING) {
      return List.of();
    }
    int at = typed.indexOf('@');
    String app = at < 0 ? "" : typed.substring(0, at);
    try {
      Optional<String> token = settings.token(server);
      Path file = settings.state().resolve("completion").resolve(name(what, app, token));
      if (Files.exists(file)
          && Files.getLastModifiedTime(file).toInstant().isAfter(Instant.now().minus(KEPT))) {
        return Files.readAllLines(file);
      }
      List<String> found = asked(what, app, token);
      Files.createDirectories(file.getParent());
      Files.write(file, found);
      return found;
    } catch (IOException | JacksonException | Failed e) {
      return List.of(); // nobody asked for anything but a completion
    }
  }

  /** Another server, and another person at it, have names of their own. */
  private String name(What what, String app, Optional<String> token) {
    int who = (server + " " + token.orElse("") + " " + app).hashCode();
    return what.name().toLowerCase(Locale.ROOT) + "-" + Integer.toHexString(who);
  }

  private List<String> asked(What what, String app, Optional<String> token) throws IOException {
    return switch (what) {
      case NOTHING -> List.of();
      case APPLICATION -> fields("/applications?limit=500", "key", token);
      case STAGE -> fields("/stages", "key", token);
      case SITE -> sites(token);
      case PATH -> fields("/paths", "key", token);
      case PROMOTION -> fields("/promotions?limit=100", "number", token);
      case RUN -> fields("/runs?limit=100", "number", token);
      case DRAFT -> fields("/drafts?limit=100", "id", token);
      case PERSON -> fields("/people?limit=500", "login", token);
      case RELEASE -> fields("/releases?limit=500", "key", token);
      case CONNECTION -> {
        List<String> out = new ArrayList<>();
        for (JsonNode c : items("/connections", token)) {
          out.add(text(c, "stage") + "/" + text(c, "name"));
        }
        yield out;
      }
      case VERSION, PLACE -> behindApplication(what, app, token);
    };
  }

  /** First the applications, each with its "@"; then what may stand behind it. */
  private List<String> behindApplication(What what, String app, Optional<String> token)
      throws IOException {
    if (app.isEmpty()) {
      return fields("/applications?limit=500", "key", token).stream().map(a -> a + "@").toList();
    }
    List<String> behind =
        what == What.PLACE
            ? sites(token)
            : fields("/versions?limit=100&application=" + Api.encode(app), "number", token);
    return behind.stream().map(x -> app + "@" + x).toList();
  }

  private List<String> sites(Optional<String> token) throws IOException {
    List<String> out = new ArrayList<>();
    for (JsonNode stage : items("/stages", token)) {
      for (JsonNode site : stage.path("sites")) {
        out.add(text(stage, "key") + "/" + text(site, "key"));
      }
    }
    return out;
  }

  private List<String> fields(String path, String field, Optional<String> token)
      throws IOException {
    List<String> out = new ArrayList<>();
    for (JsonNode item : items(path, token)) {
      out.add(text(item, field));
    }
    return out;
  }

  private static String text(JsonNode node, String field) {
    return node.path(field).asString("");
  }

  private JsonNode items(String path, Optional<String> token) throws IOException {
    Call.Answer answer =
        new Call("GET", server + "/api/v1" + path, LONGEST)
            .header("Authorization", token.map(t -> "Bearer " + t).orElse(null))
            .send((String) null);
    if (answer.status() != 200) {
      throw new IOException("answered " + answer.status());
    }
    JsonNode all = Api.JSON.readTree(answer.text());
    return all.isArray() ? all : all.path("items");
  }
}
