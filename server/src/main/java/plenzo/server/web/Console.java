package plenzo.server.web;

import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.springframework.context.annotation.Configuration;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;

/**
 * Serves the console: every address of a page answers with the one document, which finds its page
 * itself.
 */
@Controller
class Console {
  @GetMapping({
    "/",
    "/standing",
    "/waiting",
    "/promotions/**",
    "/releases/**",
    "/runs/**",
    "/history",
    "/stages/**",
    "/people/**",
    "/packages/**",
    "/drafts/**",
    "/applications/**",
    "/versions/**",
    "/rollback/**",
    "/sign-in"
  })
  String page() {
    return "forward:/index.html";
  }

  /** Keeps event streams alive. */
  @Configuration
  static class Beat {
    Beat(EventHub events, ScheduledExecutorService schedule) {
      schedule.scheduleWithFixedDelay(events::beat, 10, 10, TimeUnit.SECONDS);
    }
  }
}
