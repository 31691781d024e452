package plenzo.engine.telling;

import java.util.Base64;
import java.util.List;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.telling.Webhook;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/** Addresses that are told what happens. Their secrets are made here and shown once. */
public final class Webhooks {
  private static final int SECRET = 32;

  private final Tools tools;

  public Webhooks(Tools tools) {
    this.tools = tools;
  }

  /**
   * One that was made, or got a secret.
   *
   * @param secret shown now and never again
   */
  public record Made(Webhook webhook, String secret) {}

  /**
   * @throws plenzo.core.problem.Problem for whoever does not administer everything
   */
  public void require(Person by) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
  }

  public List<Webhook> list(Person by) {
    require(by);
    return tools.keeper().read(kept -> kept.webhooks().all());
  }

  /**
   * Registers one.
   *
   * @throws Problem when the name is taken
   */
  public Made add(Person by, Webhook asked) {
    require(by);
    String secret = secret();
    return tools
        .keeper()
        .write(
            kept -> {
              if (kept.webhooks().find(asked.name()).isPresent()) {
                throw Problem.invalid(
                    "TAKEN",
                    "There is already a webhook \"" + asked.name() + "\"; change it instead.",
                    "/name");
              }
              kept.webhooks().insert(asked);
              kept.secrets().insert(sealed(asked.name(), secret, 0));
              note(kept, by, "webhook registered", asked.name() + ": " + asked.address());
              return new Made(kept.webhooks().find(asked.name()).orElseThrow(), secret);
            });
  }

  /** Changes where it leads and what it is told of; its secret stays. */
  public Webhook change(Person by, Webhook asked) {
    require(by);
    return tools
        .keeper()
        .write(
            kept -> {
              kept.webhooks()
                  .find(asked.name())
                  .orElseThrow(() -> Problem.notFound("webhook", asked.name()));
              if (!kept.webhooks().update(asked)) {
                throw Problem.changedMeanwhile(asked.name());
              }
              note(
                  kept,
                  by,
                  "webhook changed",
                  asked.name() + ": " + asked.address() + (asked.active() ? "" : ", switched off"));
              return kept.webhooks().find(asked.name()).orElseThrow();
            });
  }

  /** Takes it away with its secret; what waits for it is given up. */
  public void remove(Person by, String name) {
    require(by);
    tools
        .keeper()
        .write(
            kept -> {
              if (!kept.webhooks().remove(name)) {
                throw Problem.notFound("webhook", name);
              }
              kept.secrets().remove(id(name));
              note(kept, by, "webhook removed", name);
              return null;
            });
  }

  private void note(Kept kept, Person by, String event, String text) {
    kept.note(Event.of(by.login(), event, text), tools.now());
  }

  private String secret() {
    byte[] bytes = new byte[SECRET];
    tools.random().nextBytes(bytes);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
  }

  private Kept.Secret sealed(String name, String secret, int revision) {
    return new Kept.Secret(
        id(name), tools.vault().encrypt(id(name), secret), tools.vault().keyId(), revision);
  }

  static String id(String name) {
    return "webhook/" + name;
  }
}
