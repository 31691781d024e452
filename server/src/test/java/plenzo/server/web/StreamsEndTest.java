package plenzo.server.web;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.springframework.boot.web.server.context.WebServerApplicationContext;
import plenzo.core.person.Person;
import plenzo.core.person.Right;

/** The service stops at once, however many consoles are open. */
class StreamsEndTest {
  private final EventHub hub = new EventHub(Runnable::run);
  private final StreamsEnd end = new StreamsEnd(hub);
  private final Person ines =
      Person.invited("ines", "Ines", "", false)
          .withGrants(List.of(new Person.Grant(Right.LOOK, "*", "*")));

  @Test
  void streamsEndBeforeTheServiceWaitsForItsAnswers() {
    assertThat(end.getPhase()).isGreaterThan(WebServerApplicationContext.GRACEFUL_SHUTDOWN_PHASE);
  }

  @Test
  void everyStreamIsOverAfterwards() {
    end.start();
    for (int n = 0; n < EventHub.EACH; n++) {
      hub.open("ines", () -> ines, null);
    }
    assertThatThrownBy(() -> hub.open("ines", () -> ines, null))
        .isInstanceOf(EventHub.TooMany.class);

    end.stop();

    assertThat(end.isRunning()).isFalse();
    assertThat(hub.open("ines", () -> ines, null)).isNotNull();
  }
}
