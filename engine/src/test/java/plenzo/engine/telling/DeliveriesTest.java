package plenzo.engine.telling;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.json.Json;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.target.TargetFailed;
import plenzo.core.telling.CloudEvent;
import plenzo.core.telling.Delivery;
import plenzo.core.telling.Webhook;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.EngineKit.Told;
import plenzo.engine.kit.KitTest;
import plenzo.engine.sealing.HookSignature;

/**
 * Other systems are told what happened, at least once each, and one that is silent holds up none.
 */
class DeliveriesTest extends KitTest {
  private static final String CHAT = "https://chat.example/in";
  private static final String BOARD = "https://board.example/in";

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.engine().deliveries().goOn();
  }

  private Webhooks.Made hook(String name, String address, String... events) {
    return kit.engine()
        .webhooks()
        .add(
            kit.ines,
            new Webhook(
                name,
                address,
                List.of(),
                List.of(),
                List.of(events),
                true,
                "ines",
                kit.clock.instant(),
                0));
  }

  private void goOn() {
    kit.engine().deliveries().goOn();
    kit.settleDown();
  }

  private List<String> events(String page) {
    return kit.told.stream()
        .filter(t -> t.page().equals(page))
        .map(t -> Json.parseObject(t.document()).text("type"))
        .toList();
  }

  private List<Delivery> deliveries() {
    return kit.engine().deliveries().list(kit.ines, null);
  }

  @Test
  void eachEventIsToldOnceInItsOrderAndSigned() {
    String secret = hook("chat", CHAT, "prepared", "run done").secret();
    kit.bring("1.1.0");
    goOn();
    goOn();

    assertThat(events(CHAT)).endsWith("plenzo.run-done").doesNotHaveDuplicates();
    Told last = kit.told.get(kit.told.size() - 1);
    assertThat(last.headers().get("Plenzo-Signature"))
        .isEqualTo(
            HookSignature.of(
                secret, Deliveries.signed(last.headers().get("Plenzo-Time"), last.document())));
    assertThat(last.headers()).containsEntry("Content-Type", CloudEvent.TYPE);
    assertThat(last.document()).doesNotContain(secret);
    assertThat(deliveries()).allMatch(d -> d.state() == Delivery.State.DELIVERED);
  }

  @Test
  void whatWasBeforeIsNotTold() {
    hook("chat", CHAT);
    goOn();

    assertThat(events(CHAT)).containsExactly("plenzo.webhook-registered");
  }

  @Test
  void nothingIsLostOverARestart() {
    hook("chat", CHAT, "run done");
    kit.bring("1.1.0");
    kit.restart();
    goOn();

    assertThat(events(CHAT)).containsExactly("plenzo.run-done");
  }

  @Test
  void oneThatDoesNotAnswerIsTriedAgainAndHoldsUpNoOther() {
    hook("chat", CHAT, "run done");
    hook("board", BOARD, "run done");
    kit.hears =
        page -> {
          if (page.equals(CHAT)) {
            throw new TargetFailed("nobody answers", true, new IllegalStateException());
          }
        };
    kit.bring("1.1.0");
    goOn();
    assertThat(events(BOARD)).hasSize(1);
    assertThat(events(CHAT)).hasSize(1);
    goOn();
    assertThat(events(CHAT)).as("not before its pause is over").hasSize(1);

    kit.hears = page -> {};
    kit.clock.tick(Duration.ofMinutes(1));
    goOn();

    assertThat(events(CHAT)).hasSize(2);
    assertThat(deliveries()).allMatch(d -> d.state() == Delivery.State.DELIVERED);
  }

  @Test
  void itIsGivenUpInTheEndSaidInTheHistoryAndSentAnewByAPerson() {
    hook("chat", CHAT, "run done", "delivery given up");
    kit.hears =
        page -> {
          throw new TargetFailed("nobody answers", true, new IllegalStateException());
        };
    kit.bring("1.1.0");
    for (int n = 0; n < 9; n++) {
      goOn();
      kit.clock.tick(Duration.ofDays(1));
    }

    Delivery d = deliveries().get(0);
    assertThat(d.state()).isEqualTo(Delivery.State.GIVEN_UP);
    assertThat(deliveries()).as("that it was given up is told to nobody").hasSize(1);
    assertThat(kit.history()).anyMatch(h -> h.event().equals("delivery given up"));

    kit.hears = page -> {};
    kit.engine().deliveries().replay(kit.ines, d.number());
    goOn();
    assertThat(deliveries().get(0).state()).isEqualTo(Delivery.State.DELIVERED);
  }

  @Test
  void oneThatIsSwitchedOffOrTakenAwayIsToldNothing() {
    Webhook w = hook("chat", CHAT, "run done").webhook();
    kit.engine()
        .webhooks()
        .change(
            kit.ines,
            new Webhook(
                w.name(),
                w.address(),
                w.stages(),
                w.applications(),
                w.events(),
                false,
                w.by(),
                w.at(),
                w.revision()));
    kit.bring("1.1.0");
    goOn();
    assertThat(kit.told).isEmpty();

    kit.engine().webhooks().remove(kit.ines, "chat");
    assertThat(kit.engine().webhooks().list(kit.ines)).isEmpty();
    assertThat(kit.<Boolean>read(kept -> kept.secrets().find("webhook/chat").isPresent()))
        .isFalse();
  }

  @Test
  void onlyWhoAdministersEverythingSetsItUp() {
    var edda = EngineKit.person("edda", Right.LOOK);
    assertThatThrownBy(() -> kit.engine().webhooks().list(edda)).isInstanceOf(Problem.class);
    assertThatThrownBy(() -> kit.engine().deliveries().list(edda, null))
        .isInstanceOf(Problem.class);
    hook("chat", CHAT);
    assertThatThrownBy(() -> hook("chat", BOARD)).hasMessageContaining("already a webhook");
  }
}
