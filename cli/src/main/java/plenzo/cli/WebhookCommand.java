package plenzo.cli;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Tellings.DeliveryView;
import plenzo.api.Tellings.SaveWebhook;
import plenzo.api.Tellings.WebhookMade;
import plenzo.api.Tellings.WebhookView;

@Command(
    name = "webhook",
    description = {
      "Addresses outside that are told what happens, as CloudEvents 1.0, signed and tried again with"
          + " growing pauses.",
      "Only listed destinations are reached, as for every call that leaves the service."
    },
    footer = {
      "",
      "Examples:",
      "  plenzo webhook add chat --address https://chat.example/in --event \"run done\" --event \"run failed\"",
      "  plenzo webhook deliveries chat",
      "  plenzo webhook replay DV-9"
    })
final class WebhookCommand extends Group {
  /** What an address is told of. */
  static final class Follows {
    @Option(names = "--stage", description = "Told of these alone; repeatable.")
    @Nullable List<String> stages;

    @Option(names = "--app", description = "Told of these alone; repeatable.")
    @Nullable List<String> applications;

    @Option(
        names = "--event",
        description = "Told of these alone, by the history's words; repeatable.")
    @Nullable List<String> events;
  }

  @Command(name = "list", description = "All of them.")
  void list() {
    out()
        .list(
            "webhooks",
            api().list("/webhooks", WebhookView.class),
            List.of("webhook", "address", "told of", "by"),
            w ->
                List.of(
                    w.name(),
                    w.address(),
                    w.active() ? follows(w) : "nothing: switched off",
                    w.by()));
  }

  private static String follows(WebhookView w) {
    return (w.events().isEmpty() ? "everything" : String.join(", ", w.events()))
        + (w.applications().isEmpty() ? "" : " of " + String.join(", ", w.applications()))
        + (w.stages().isEmpty() ? "" : " at " + String.join(", ", w.stages()));
  }

  @Command(
      name = "add",
      description = "Registers one. Its secret is shown once: keep it where what comes is checked.")
  void add(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--address", required = true) String address,
      @picocli.CommandLine.Mixin Follows follows) {
    WebhookMade made =
        api()
            .post(
                "/webhooks",
                new SaveWebhook(
                    name,
                    address,
                    follows.stages,
                    follows.applications,
                    follows.events,
                    /* active= */ true,
                    /* revision= */ null),
                WebhookMade.class);
    if (out().json()) {
      out().document("webhook", made);
      return;
    }
    out().line(name + " is told of " + follows(made.webhook()) + " at " + address + ".");
    out().line("Secret, shown once: " + made.secret());
  }

  private WebhookView get(String name) {
    return api().list("/webhooks", WebhookView.class).stream()
        .filter(w -> w.name().equals(name))
        .findFirst()
        .orElseThrow(
            () -> Failed.notFound("There is no webhook \"" + name + "\".", "plenzo webhook list"));
  }

  @Command(
      name = "change",
      description = "Changes where it leads and what it is told of; what is not named stays.")
  void change(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--address") @Nullable String address,
      @Option(names = "--active", arity = "1", paramLabel = "true|false") @Nullable Boolean active,
      @picocli.CommandLine.Mixin Follows follows) {
    WebhookView w = get(name);
    WebhookView next =
        api()
            .put(
                "/webhooks/" + Api.encode(name),
                new SaveWebhook(
                    name,
                    address == null ? w.address() : address,
                    follows.stages == null ? w.stages() : follows.stages,
                    follows.applications == null ? w.applications() : follows.applications,
                    follows.events == null ? w.events() : follows.events,
                    active == null ? w.active() : active,
                    w.revision()),
                WebhookView.class);
    if (out().json()) {
      out().document("webhook", next);
      return;
    }
    out()
        .line(
            name
                + " is told of "
                + (next.active() ? follows(next) : "nothing: it is switched off")
                + " at "
                + next.address()
                + ".");
  }

  @Command(name = "remove", description = "Takes it away; what waits for it is given up.")
  void remove(@Parameters(paramLabel = "NAME") String name) {
    api().delete("/webhooks/" + Api.encode(name), Void.class);
    out().line(name + " is told nothing any more.");
  }

  @Command(name = "deliveries", description = "What went to them and what waits, newest first.")
  void deliveries(@Parameters(paramLabel = "NAME", arity = "0..1") @Nullable String name) {
    out()
        .list(
            "deliveries",
            api().list("/deliveries" + Api.query("webhook", name), DeliveryView.class),
            List.of("delivery", "to", "event", "state", "tries", "again", "what came of it"),
            d ->
                List.of(
                    d.number(),
                    d.webhook(),
                    d.event(),
                    d.state(),
                    String.valueOf(d.tries()),
                    out().time(d.next()),
                    d.said()));
  }

  @Command(name = "replay", description = "Sends one again, whatever became of it.")
  void replay(@Parameters(paramLabel = "DELIVERY") String number) {
    DeliveryView d =
        api().post("/deliveries/" + Api.encode(number) + "/replay", Map.of(), DeliveryView.class);
    if (out().json()) {
      out().document("delivery", d);
      return;
    }
    out().line(d.number() + " goes to " + d.webhook() + " once more.");
  }
}
