package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Tellings.DeliveryView;
import plenzo.api.Tellings.SaveWebhook;
import plenzo.api.Tellings.WebhookMade;
import plenzo.api.Tellings.WebhookView;
import plenzo.core.person.Person;
import plenzo.core.telling.Delivery;
import plenzo.core.telling.Webhook;
import plenzo.engine.Engine;
import plenzo.engine.telling.Webhooks;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Addresses outside that are told what happens. */
@RestController
@RequestMapping("/api/v1")
class TellingController {
  private final Engine engine;

  TellingController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  @GetMapping("/webhooks")
  List<WebhookView> webhooks(HttpServletRequest request) {
    return engine.webhooks().list(by(request)).stream().map(TellingController::view).toList();
  }

  /** Registers one; its secret is in this answer and nowhere else. */
  @PostMapping("/webhooks")
  WebhookMade add(@RequestBody SaveWebhook asked, HttpServletRequest request) {
    Person by = by(request);
    engine.webhooks().require(by); // before it is said what is wrong with it
    Webhooks.Made made = engine.webhooks().add(by, webhook(by, asked, 0));
    return new WebhookMade(view(made.webhook()), made.secret());
  }

  /** Changes where it leads and what it is told of; its secret stays. */
  @PutMapping("/webhooks/{name}")
  WebhookView change(
      @PathVariable String name, @RequestBody SaveWebhook asked, HttpServletRequest request) {
    if (!asked.name().equals(name)) {
      throw new IllegalArgumentException(
          "The body's name " + asked.name() + " is not the address's " + name);
    }
    int revision = asked.revision() == null ? 0 : asked.revision();
    IfMatch.revision(request, revision);
    Person by = by(request);
    engine.webhooks().require(by);
    return view(engine.webhooks().change(by, webhook(by, asked, revision)));
  }

  @DeleteMapping("/webhooks/{name}")
  void remove(@PathVariable String name, HttpServletRequest request) {
    engine.webhooks().remove(by(request), name);
  }

  /**
   * @param webhook only to that one
   */
  @GetMapping("/deliveries")
  List<DeliveryView> deliveries(
      @RequestParam(required = false) @Nullable String webhook, HttpServletRequest request) {
    return engine.deliveries().list(by(request), webhook).stream()
        .map(TellingController::view)
        .toList();
  }

  /** Sends one again, whatever became of it. */
  @PostMapping("/deliveries/{number}/replay")
  DeliveryView replay(@PathVariable String number, HttpServletRequest request) {
    return view(engine.deliveries().replay(by(request), PromotionController.number(number, "DV-")));
  }

  private Webhook webhook(Person by, SaveWebhook asked, int revision) {
    return new Webhook(
        asked.name(),
        asked.address(),
        asked.stages() == null ? List.of() : asked.stages(),
        asked.applications() == null ? List.of() : asked.applications(),
        asked.events() == null ? List.of() : asked.events(),
        asked.active() == null || asked.active(),
        by.login(),
        engine.tools().now(),
        revision);
  }

  private static WebhookView view(Webhook w) {
    return new WebhookView(
        w.name(),
        w.address(),
        w.stages(),
        w.applications(),
        w.events(),
        w.active(),
        w.by(),
        w.at(),
        w.revision());
  }

  private static DeliveryView view(Delivery d) {
    return new DeliveryView(
        d.shown(),
        d.webhook(),
        d.entry(),
        d.event(),
        d.state().code(),
        d.tries(),
        d.next(),
        Shown.plain(d.said()),
        d.made());
  }
}
